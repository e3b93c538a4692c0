import { date, numeric, pgTable, primaryKey } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, currency } from '../columns.ts'

export const exchangeRate = pgTable(
  'exchange_rate',
  {
    clientId: clientId().references(() => client.clientId),
    date: date('date').notNull(),
    from: currency('from').notNull(),
    to: currency('to').notNull(),
    rate: numeric('rate').notNull(),
  },
  table => [primaryKey({ columns: [table.clientId, table.date, table.from, table.to] })],
)
