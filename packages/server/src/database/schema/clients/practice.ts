import { integer, pgTable, text } from 'drizzle-orm/pg-core'

/** The firm that keeps the books. */
export const practice = pgTable('practice', {
  practiceId: integer('practice_id').primaryKey().generatedAlwaysAsIdentity(),
  name: text('name').notNull(),
})
