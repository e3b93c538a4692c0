import { sql } from 'drizzle-orm'
import { check, date, foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, moment, now } from '../columns.ts'
import { registration } from './registration.ts'

/** A tax period that was filed with an agency; rows are withdrawn, never removed. */
export const taxFiling = pgTable(
  'tax_filing',
  {
    clientId: clientId().references(() => client.clientId),
    filingId: integer('filing_id').notNull(),
    agency: text('agency').notNull(),
    /** Of which registration; null: filed before registrations were kept, and taken for one of all codes. */
    registrationId: integer('registration_id'),
    from: date('from').notNull(),
    to: date('to').notNull(),
    filedOn: date('filed_on').notNull(),
    by: integer('by').notNull(),
    at: now(),
    withdrawnAt: moment('withdrawn_at'),
    withdrawnBy: integer('withdrawn_by'),
    /** Why it was withdrawn; empty while it stands. */
    withdrawnFor: text('withdrawn_for').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.filingId] }),
    foreignKey({
      columns: [table.clientId, table.registrationId],
      foreignColumns: [registration.clientId, registration.registrationId],
    }),
    check('tax_filing_span', sql`"from" <= "to"`),
    check('tax_filing_withdrawn', sql`(withdrawn_at IS NULL) = (withdrawn_for = '')`),
  ],
)
