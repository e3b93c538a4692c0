import { sql } from 'drizzle-orm'
import { check, date, foreignKey, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, oneOf } from '../columns.ts'
import { job } from '../jobs/job.ts'
import { source } from './source.ts'

/** A row of a file that was left out on purpose as it came in, since it cannot be read; with the file that it is of. */
export const rowAside = pgTable(
  'row_aside',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    jobId: text('job_id').notNull(),
    /** As the file counts them, the header being 1. */
    row: integer('row').notNull(),
    /** Local date, where its own can be read. */
    day: date('day'),
    /** nothing: a total or a heading, that moves nothing; unread: a movement that is still to be brought in. */
    why: text('why').notNull(),
    /** `{ column, code }` of what could not be read in it. */
    fault: jsonb('fault').notNull(),
    /** Its fields by the names of their columns, as far as they have a meaning and tell of nobody. */
    fields: jsonb('fields').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.jobId, table.row] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.jobId], foreignColumns: [job.clientId, job.jobId] }),
    check('row_aside_why', oneOf('why', ['nothing', 'unread'])),
    check('row_aside_row', sql`row > 1`),
  ],
)
