import { foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, moment } from '../columns.ts'
import { note } from './note.ts'

/**
 * The link by which a client's own people answer one question, without an account. What is kept of it is a hash, and what its page shows of whom it concerns;
 * whoever has it sees this question and nothing else.
 */
export const questionLink = pgTable(
  'question_link',
  {
    clientId: clientId(),
    noteId: text('note_id').notNull(),
    tokenHash: text('token_hash').notNull().unique(),
    /** As the page that the link opens names them. */
    practiceName: text('practice_name').notNull(),
    clientName: text('client_name').notNull(),
    askedBy: text('asked_by').notNull(),
    sentTo: text('sent_to'),
    expiresAt: moment('expires_at').notNull(),
    /** The browser that opened it first: no other can. */
    boundHash: text('bound_hash'),
    boundAt: moment('bound_at'),
    withdrawnAt: moment('withdrawn_at'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.noteId] }),
    foreignKey({ columns: [table.clientId, table.noteId], foreignColumns: [note.clientId, note.noteId] }),
  ],
)
