import { integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import { moment } from '../columns.ts'
import { appUser } from './appUser.ts'

/** A program's way in on behalf of a person: with some of their rights, to some of their clients, until a day. What is kept of it is a hash. */
export const accessToken = pgTable('access_token', {
  tokenId: integer('token_id').primaryKey().generatedAlwaysAsIdentity(),
  userId: integer('user_id')
    .notNull()
    .references(() => appUser.userId),
  name: text('name').notNull(),
  tokenHash: text('token_hash').notNull().unique(),
  /** Its first letters, by which its owner knows it again. */
  begins: text('begins').notNull(),
  rights: jsonb('rights').notNull(),
  /** Null: all that the person has, also later ones. */
  clients: jsonb('clients'),
  createdAt: moment('created_at').notNull(),
  expiresAt: moment('expires_at').notNull(),
  lastUsedAt: moment('last_used_at'),
  withdrawnAt: moment('withdrawn_at'),
})
