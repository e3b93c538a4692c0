import { sql } from 'drizzle-orm'
import { boolean, check, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor, moment, now } from './columns.ts'

// People, clients, and what waits at their stages.

export const appUser = pgTable('app_user', {
  userId: integer('user_id').primaryKey().generatedAlwaysAsIdentity(),
  email: text('email').notNull().unique(),
  name: text('name').notNull(),
})

export const client = pgTable(
  'client',
  {
    clientId: integer('client_id').primaryKey().generatedByDefaultAsIdentity(),
    name: text('name').notNull(),
    base: currency('base').notNull(),
    timeZone: text('time_zone').notNull(),
    cutOff: text('cut_off').notNull().default('00:00'),
    locale: text('locale').notNull().default('en-IE'),
    exchangeRounding: text('exchange_rounding'),
    exchangeDifference: text('exchange_difference'),
    /** Month, 1 to 12, in which the fiscal year begins. */
    fiscalStart: integer('fiscal_start').notNull().default(1),
    /** Counts every save of what decides bookings: routes, rules, items, tax codes, labels, rates. */
    setupVersion: integer('setup_version').notNull().default(0),
    /** What decides the tax code of supplies: `rows`, or, until somebody has decided what rows cannot say, their `routes`. */
    taxBy: text('tax_by').notNull().default('routes'),
    /** Made at random: from it the ids of persons are made, which tell nothing without it. */
    personKey: text('person_key')
      .notNull()
      .default(sql`replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', '')`),
    createdAt: moment('created_at').notNull().defaultNow(),
  },
  () => [check('client_tax_by', sql`tax_by IN ('routes', 'rows')`)],
)

export const membership = pgTable(
  'membership',
  {
    clientId: clientId().references(() => client.clientId),
    userId: integer('user_id')
      .notNull()
      .references(() => appUser.userId),
    role: text('role').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.userId] }),
    check('membership_role', sql`role IN ('bookkeeper')`),
    index('membership_user').on(table.userId),
  ],
)

/** What waits at each stage, kept by the transaction that changes it. `amount` in the client's base, minor units. */
export const clientSummary = pgTable(
  'client_summary',
  {
    clientId: clientId().references(() => client.clientId),
    stage: text('stage').notNull(),
    waiting: integer('waiting').notNull().default(0),
    amount: minor('amount').notNull().default(0),
    note: text('note').notNull().default(''),
    /** Something has changed that it counts: it is counted anew when it is read. */
    stale: boolean('stale').notNull().default(false),
    /** How often it was marked or shifted: a count that was begun before the last time is not written. */
    marks: integer('marks').notNull().default(0),
    at: now(),
  },
  table => [primaryKey({ columns: [table.clientId, table.stage] })],
)
