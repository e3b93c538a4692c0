import { date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from '../columns.ts'
import { source } from '../sources/source.ts'

/** What the processor says it holds, at the end of a local date. */
export const reportedBalance = pgTable(
  'reported_balance',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    date: date('date').notNull(),
    available: minor('available').notNull(),
    pending: minor('pending').notNull().default(0),
    reserve: minor('reserve').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.currency, table.date] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)
