import { sql } from 'drizzle-orm'
import { check, customType, foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { appUser } from '../clients/appUser.ts'
import { clientId, moment } from '../columns.ts'
import { note } from './note.ts'

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

/** A picture or PDF that belongs to a note or an answer. Append-only. */
export const evidence = pgTable(
  'evidence',
  {
    clientId: clientId(),
    evidenceId: text('evidence_id').notNull(),
    noteId: text('note_id').notNull(),
    /** Null: the client's own person, by the link. */
    by: integer('by').references(() => appUser.userId),
    at: moment('at').notNull(),
    name: text('name').notNull(),
    mediaType: text('media_type').notNull(),
    /** In bytes. */
    size: integer('size').notNull(),
    sha256: text('sha256').notNull(),
    content: bytea('content').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.evidenceId] }),
    foreignKey({ columns: [table.clientId, table.noteId], foreignColumns: [note.clientId, note.noteId] }),
    check(
      'evidence_type',
      sql`media_type IN ('image/png', 'image/jpeg', 'image/webp', 'image/gif', 'application/pdf')`,
    ),
    check('evidence_size', sql`size BETWEEN 1 AND 10000000 AND size = octet_length(content)`),
  ],
)
