import { integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'

/** Tenders and collections, as they stand, that are in no match that holds. Kept by triggers. */
export const openTie = pgTable(
  'open_tie',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    kind: text('kind').notNull(),
  },
  table => [primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] })],
)
