import { check, foreignKey, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, oneOf } from '../columns.ts'
import { job } from '../jobs/job.ts'

/** Append-only: what a file said of a settlement or a balance, and what stood there before: by it the file is taken back. */
export const importChange = pgTable(
  'import_change',
  {
    clientId: clientId(),
    jobId: text('job_id').notNull(),
    source: text('source').notNull(),
    sort: text('sort').notNull(),
    /** The settlement's id, or the balance's local date. */
    key: text('key').notNull(),
    currency: currency().notNull(),
    /** Null: nothing was said of it. */
    before: jsonb('before'),
    after: jsonb('after').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.jobId, table.sort, table.key, table.currency] }),
    foreignKey({ columns: [table.clientId, table.jobId], foreignColumns: [job.clientId, job.jobId] }),
    check('import_change_sort', oneOf('sort', ['head', 'balance'])),
  ],
)
