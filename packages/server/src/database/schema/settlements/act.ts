import { check, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, now, oneOf } from '../columns.ts'
import { actSorts } from './actSorts.ts'

/** Something done in one act: posted, taken back, confirmed. Append-only. */
export const act = pgTable(
  'act',
  {
    clientId: clientId().references(() => client.clientId),
    actId: text('act_id').notNull(),
    sort: text('sort').notNull(),
    at: now(),
    by: integer('by').notNull(),
    note: text('note').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.actId] }),
    check('act_sort', oneOf('sort', actSorts)),
    index('act_by_time').on(table.clientId, table.at),
  ],
)
