import { sql } from 'drizzle-orm'
import { index, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import { clientId, moment } from '../columns.ts'

/** Personal data of activity, beside it: the one part of it that can be erased. An erased row stays, so that no pull brings it back. */
export const personal = pgTable(
  'personal',
  {
    clientId: clientId(),
    personId: uuid('person_id').notNull(),
    customer: text('customer'),
    email: text('email'),
    shipTo: text('ship_to'),
    note: text('note'),
    rest: jsonb('rest'),
    /** How much of it was taken in: `none`, `name` or `all`. */
    told: text('told').notNull().default('all'),
    erasedAt: moment('erased_at'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.personId] }),
    // Whether less was taken in of anybody is looked at with every file.
    index('personal_narrowed').on(table.clientId).where(sql`told <> 'all'`),
    // Names are found by how they begin.
    index('personal_by_name').on(table.clientId, sql`lower(customer) text_pattern_ops`),
  ],
)
