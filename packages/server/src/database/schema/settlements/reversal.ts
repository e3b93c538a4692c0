import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency } from '../columns.ts'
import { act } from './act.ts'
import { posting } from './posting.ts'

/** Unique per posting. Append-only. The key of `posting.previous` points here. */
export const reversal = pgTable(
  'reversal',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    actId: text('act_id').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency, table.generation] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)
