import { boolean, char, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId } from '../columns.ts'

export const period = pgTable(
  'period',
  {
    clientId: clientId().references(() => client.clientId),
    month: char('month', { length: 7 }).notNull(),
    locked: boolean('locked').notNull().default(false),
    /** Why it was locked though something was open in it. */
    reason: text('reason').notNull().default(''),
  },
  table => [primaryKey({ columns: [table.clientId, table.month] })],
)
