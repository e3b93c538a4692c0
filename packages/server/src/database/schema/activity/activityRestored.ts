import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { activityLine } from './activityLine.ts'

/** Append-only: revisions that stand again because the file which had changed them was taken back, and which revision each is once more. */
export const activityRestored = pgTable(
  'activity_restored',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    /** The one that a file or pull brought. */
    ofRevision: integer('of_revision').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    foreignKey({
      columns: [table.clientId, table.source, table.lineId, table.revision],
      foreignColumns: [activityLine.clientId, activityLine.source, activityLine.lineId, activityLine.revision],
    }),
  ],
)
