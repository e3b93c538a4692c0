import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency } from '../columns.ts'
import { act } from './act.ts'
import { posting } from './posting.ts'

/** Revisions booked after the posting, up to `pullNo`; one per posting and pull. Append-only. */
export const correction = pgTable(
  'correction',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    pullNo: integer('pull_no').notNull(),
    actId: text('act_id').notNull(),
  },
  table => [
    primaryKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation, table.pullNo],
    }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)
