import { sql } from 'drizzle-orm'
import { check, date, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId } from '../columns.ts'

/** Where the client is registered for tax: what returns are filed for. */
export const registration = pgTable(
  'registration',
  {
    clientId: clientId().references(() => client.clientId),
    registrationId: integer('registration_id').notNull(),
    agency: text('agency').notNull(),
    country: text('country').notNull(),
    /** Part of the country, ISO 3166-2; null: the country. */
    region: text('region'),
    number: text('number').notNull().default(''),
    scheme: text('scheme').notNull().default(''),
    from: date('from'),
    to: date('to'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.registrationId] }),
    check('registration_span', sql`"to" IS NULL OR "from" IS NULL OR "from" <= "to"`),
    check('registration_agency', sql`agency <> ''`),
  ],
)
