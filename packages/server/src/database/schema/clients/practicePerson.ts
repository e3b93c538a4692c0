import { sql } from 'drizzle-orm'
import { check, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { moment } from '../columns.ts'
import { appUser } from './appUser.ts'
import { practice } from './practice.ts'

/** Who is of the practice: its owners, and the others with what they may do beside all clients. Whoever has left keeps their row, with the moment. */
export const practicePerson = pgTable(
  'practice_person',
  {
    practiceId: integer('practice_id')
      .notNull()
      .references(() => practice.practiceId),
    userId: integer('user_id')
      .notNull()
      .references(() => appUser.userId),
    role: text('role').notNull(),
    endedAt: moment('ended_at'),
    /** From when on the second factor is asked for no more, as an owner said of one that was lost. */
    factorEndsAt: moment('factor_ends_at'),
  },
  table => [
    primaryKey({ columns: [table.practiceId, table.userId] }),
    check('practice_person_role', sql`role IN ('owner', 'bookkeeper', 'junior', 'accountant', 'guest')`),
    index('practice_person_user').on(table.userId),
  ],
)
