import { boolean, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, minor, now } from '../columns.ts'
import { client } from './client.ts'

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
