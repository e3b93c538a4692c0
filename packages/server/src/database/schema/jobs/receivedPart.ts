import { customType, foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { job } from './job.ts'

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

/** A file that a job is to read, as it came, compressed, in parts; gone when the job is over. */
export const receivedPart = pgTable(
  'received_part',
  {
    clientId: clientId(),
    jobId: text('job_id').notNull(),
    part: integer('part').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.jobId, table.part] }),
    foreignKey({ columns: [table.clientId, table.jobId], foreignColumns: [job.clientId, job.jobId] }),
  ],
)
