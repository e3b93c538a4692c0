import { sql } from 'drizzle-orm'
import { check, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { appUser } from '../clients/appUser.ts'
import { client } from '../clients/client.ts'
import { clientId, minor, moment, oneOf } from '../columns.ts'
import { consentSorts } from './consentSorts.ts'

/** Something that is done only with another's consent: what was asked, exactly as it stood then, and what came of it. */
export const consent = pgTable(
  'consent',
  {
    clientId: clientId().references(() => client.clientId),
    consentId: text('consent_id').notNull(),
    sort: text('sort').notNull(),
    askedBy: integer('asked_by')
      .notNull()
      .references(() => appUser.userId),
    askedAt: moment('asked_at').notNull(),
    note: text('note').notNull(),
    /** What the endpoint is to be asked. */
    asked: jsonb('asked').notNull(),
    /** What it would do, digested, and the version of the setup that it stands on: both must be so still. */
    digest: text('digest').notNull(),
    setupVersion: integer('setup_version').notNull(),
    count: integer('count').notNull(),
    /** In minor units of base. */
    amount: minor('amount').notNull(),
    outcome: text('outcome'),
    decidedBy: integer('decided_by').references(() => appUser.userId),
    decidedAt: moment('decided_at'),
    reason: text('reason').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.consentId] }),
    check('consent_sort', oneOf('sort', consentSorts)),
    check('consent_outcome', sql`outcome IN ('given', 'refused', 'withdrawn', 'moved')`),
    check(
      'consent_decided',
      sql`(outcome IS NULL) = (decided_by IS NULL) AND (outcome IS NULL) = (decided_at IS NULL)`,
    ),
    // Nobody consents to what they asked for.
    check('consent_by_another', sql`outcome IS DISTINCT FROM 'given' OR decided_by <> asked_by`),
  ],
)
