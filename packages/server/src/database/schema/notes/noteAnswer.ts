import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { appUser } from '../clients/appUser.ts'
import { clientId, moment } from '../columns.ts'
import { note } from './note.ts'

/** What was answered to a question, in order. Append-only. */
export const noteAnswer = pgTable(
  'note_answer',
  {
    clientId: clientId(),
    noteId: text('note_id').notNull(),
    no: integer('no').notNull(),
    /** Null: the client's own person, by the link. */
    by: integer('by').references(() => appUser.userId),
    text: text('text').notNull(),
    at: moment('at').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.noteId, table.no] }),
    foreignKey({ columns: [table.clientId, table.noteId], foreignColumns: [note.clientId, note.noteId] }),
  ],
)
