import { sql } from 'drizzle-orm'
import { check, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { appUser } from './appUser.ts'
import { client } from './client.ts'

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
    check('membership_role', sql`role IN ('owner', 'bookkeeper', 'junior', 'accountant', 'guest')`),
    index('membership_user').on(table.userId),
  ],
)
