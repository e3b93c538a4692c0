import { integer, pgTable, text } from 'drizzle-orm/pg-core'

export const appUser = pgTable('app_user', {
  userId: integer('user_id').primaryKey().generatedAlwaysAsIdentity(),
  email: text('email').notNull().unique(),
  name: text('name').notNull(),
})
