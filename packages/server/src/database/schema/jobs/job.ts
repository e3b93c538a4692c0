import { jobSorts, jobStates } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { bigint, check, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, moment, oneOf, writtenAt } from '../columns.ts'

/** The log of jobs: pulls, files and acts on many things at once, with how far each is while it runs. */
export const job = pgTable(
  'job',
  {
    clientId: clientId().references(() => client.clientId),
    jobId: text('job_id').notNull(),
    sort: text('sort').notNull(),
    /** The source or the bank account that it is about; empty where it is about neither. */
    subject: text('subject').notNull(),
    state: text('state').notNull(),
    /** In the order in which they were asked for, which clocks of several processes need not tell. */
    ordinal: bigint('ordinal', { mode: 'number' }).notNull().generatedAlwaysAsIdentity(),
    startedAt: writtenAt('started_at'),
    endedAt: moment('ended_at'),
    by: integer('by').notNull(),
    done: integer('done').notNull().default(0),
    total: integer('total'),
    added: integer('added').notNull().default(0),
    revised: integer('revised').notNull().default(0),
    same: integer('same').notNull().default(0),
    message: text('message').notNull().default(''),
    /** What it was asked to do, while it is not over. */
    asked: jsonb('asked'),
    /** What has come of it so far, written by the transactions that it tells of. */
    outcome: jsonb('outcome'),
    /** Why it was refused, as a request would be answered. */
    refusal: jsonb('refusal'),
    /** When what it brought in was taken back, and by whom; null while it stands. */
    takenBackAt: moment('taken_back_at'),
    takenBackBy: integer('taken_back_by'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.jobId] }),
    check('job_sort', oneOf('sort', jobSorts)),
    check('job_state', oneOf('state', jobStates)),
    check(
      'job_taken_back',
      sql`(taken_back_at IS NULL) = (taken_back_by IS NULL) AND (taken_back_at IS NULL OR state = 'done')`,
    ),
    index('job_by_subject').on(table.clientId, table.subject, table.ordinal),
    index('job_under_way').on(table.clientId).where(sql`state IN ('waiting', 'running', 'cancelling')`),
  ],
)
