import { boolean, integer, pgTable, text } from 'drizzle-orm/pg-core'
import { moment } from '../columns.ts'
import { appUser } from './appUser.ts'

/** A change of somebody's address under way: it is done once both the old and the new one have confirmed it. */
export const addressChange = pgTable('address_change', {
  userId: integer('user_id')
    .primaryKey()
    .references(() => appUser.userId),
  email: text('email').notNull(),
  oldHash: text('old_hash').notNull().unique(),
  newHash: text('new_hash').notNull().unique(),
  oldConfirmed: boolean('old_confirmed').notNull().default(false),
  newConfirmed: boolean('new_confirmed').notNull().default(false),
  expiresAt: moment('expires_at').notNull(),
})
