import { sql } from 'drizzle-orm'
import { char, check, integer, pgTable, text } from 'drizzle-orm/pg-core'
import { currency, minor, moment, writtenAt } from '../columns.ts'
import { practice } from './practice.ts'

export const client = pgTable(
  'client',
  {
    clientId: integer('client_id').primaryKey().generatedByDefaultAsIdentity(),
    practiceId: integer('practice_id')
      .notNull()
      .references(() => practice.practiceId),
    name: text('name').notNull(),
    base: currency('base').notNull(),
    timeZone: text('time_zone').notNull(),
    cutOff: text('cut_off').notNull().default('00:00'),
    locale: text('locale').notNull().default('en-IE'),
    exchangeRounding: text('exchange_rounding'),
    exchangeDifference: text('exchange_difference'),
    /** Month, 1 to 12, in which the fiscal year begins. */
    fiscalStart: integer('fiscal_start').notNull().default(1),
    /** ISO 3166-1 alpha-2; null where nobody has said it. */
    country: char('country', { length: 2 }),
    /** Number of the first entry of each fiscal year: above 1 where a year was begun elsewhere. */
    firstNumber: integer('first_number').notNull().default(1),
    /** Since when it is only read; null: its books are kept. */
    archivedAt: moment('archived_at'),
    /** Counts every save of what decides bookings: routes, rules, items, tax codes, labels, rates. */
    setupVersion: integer('setup_version').notNull().default(0),
    /** What decides the tax code of supplies: `rows`, or, until somebody has decided what rows cannot say, their `routes`. */
    taxBy: text('tax_by').notNull().default('routes'),
    /** Up to how much of one payment may be written off, in base; null: nothing. */
    writeOffUpTo: minor('write_off_up_to'),
    /** Made at random: from it the ids of persons are made, which tell nothing without it. */
    personKey: text('person_key')
      .notNull()
      .default(sql`replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', '')`),
    createdAt: writtenAt('created_at'),
  },
  () => [
    check('client_tax_by', sql`tax_by IN ('routes', 'rows')`),
    check('client_country', sql`country ~ '^[A-Z]{2}$'`),
    check('client_fiscal_start', sql`fiscal_start BETWEEN 1 AND 12`),
    check('client_first_number', sql`first_number BETWEEN 1 AND 10000000`),
    check('client_write_off_up_to', sql`write_off_up_to BETWEEN 1 AND 9000000000000000`),
  ],
)
