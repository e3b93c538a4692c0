import { integer, pgTable, primaryKey } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId } from '../columns.ts'

export const numberCounter = pgTable(
  'number_counter',
  {
    clientId: clientId().references(() => client.clientId),
    fiscalYear: integer('fiscal_year').notNull(),
    next: integer('next').notNull().default(1),
  },
  table => [primaryKey({ columns: [table.clientId, table.fiscalYear] })],
)
