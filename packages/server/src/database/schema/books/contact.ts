import { contactSorts } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { check, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, oneOf } from '../columns.ts'

/** Whom a client sells to or buys from, by its number in the former books, or by its name. */
export const contact = pgTable(
  'contact',
  {
    clientId: clientId().references(() => client.clientId),
    code: text('code').notNull(),
    name: text('name').notNull(),
    sort: text('sort').notNull(),
    email: text('email'),
    taxNumber: text('tax_number'),
    country: text('country'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    check('contact_sort', oneOf('sort', contactSorts)),
    check('contact_country', sql`country ~ '^[A-Z]{2}$'`),
  ],
)
