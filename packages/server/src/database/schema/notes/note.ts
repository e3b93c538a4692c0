import { sql } from 'drizzle-orm'
import { check, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { appUser } from '../clients/appUser.ts'
import { client } from '../clients/client.ts'
import { clientId, moment } from '../columns.ts'

/** A note on anything of a client, or a question about it: to somebody of the practice, or by a link to the client's own people. */
export const note = pgTable(
  'note',
  {
    clientId: clientId().references(() => client.clientId),
    noteId: text('note_id').notNull(),
    subject: text('subject').notNull(),
    key: text('key').notNull(),
    /** As people know it, and where its page is. */
    title: text('title').notNull(),
    link: text('link').notNull(),
    sort: text('sort').notNull(),
    text: text('text').notNull(),
    by: integer('by')
      .notNull()
      .references(() => appUser.userId),
    at: moment('at').notNull(),
    /** Who of the practice is asked, or who of the client's own people. */
    toUser: integer('to_user').references(() => appUser.userId),
    closedAt: moment('closed_at'),
    closedBy: integer('closed_by').references(() => appUser.userId),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.noteId] }),
    check('note_sort', sql`sort IN ('note', 'question', 'client_question')`),
    check('note_asks', sql`(sort = 'question') = (to_user IS NOT NULL)`),
    index('note_about').on(table.clientId, table.subject, table.key),
  ],
)
