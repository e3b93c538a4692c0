import { integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, now } from '../columns.ts'

/** How files of another shape are read, kept per source or bank account by their head, so that the next one of it is read likewise. */
export const columnMapping = pgTable(
  'column_mapping',
  {
    clientId: clientId().references(() => client.clientId),
    /** `source` or `account`, and which. */
    subject: text('subject').notNull(),
    key: text('key').notNull(),
    /** Digest of the names of the columns, in their order. */
    head: text('head').notNull(),
    mapping: jsonb('mapping').notNull(),
    by: integer('by').notNull(),
    at: now(),
  },
  table => [primaryKey({ columns: [table.clientId, table.subject, table.key, table.head] })],
)
