import { sql } from 'drizzle-orm'
import { check, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import { moment } from '../columns.ts'
import { appUser } from './appUser.ts'
import { practice } from './practice.ts'

/** A way in for one person, once. What is kept of its link is a hash. Without a practice it is the first person's, who founds one. */
export const invitation = pgTable(
  'invitation',
  {
    invitationId: integer('invitation_id').primaryKey().generatedAlwaysAsIdentity(),
    practiceId: integer('practice_id').references(() => practice.practiceId),
    tokenHash: text('token_hash').notNull().unique(),
    email: text('email'),
    role: text('role').notNull(),
    /** What they are to be of which clients: `[{"clientId": 1, "role": "junior"}]`. */
    clients: jsonb('clients').notNull().default([]),
    /** Somebody who was known before people signed in. */
    userId: integer('user_id').references(() => appUser.userId),
    invitedBy: integer('invited_by').references(() => appUser.userId),
    createdAt: moment('created_at').notNull(),
    expiresAt: moment('expires_at').notNull(),
    usedAt: moment('used_at'),
    withdrawnAt: moment('withdrawn_at'),
  },
  () => [check('invitation_role', sql`role IN ('owner', 'bookkeeper', 'junior', 'accountant', 'guest')`)],
)
