import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { activityLine } from './activityLine.ts'

/** Revisions that a later one has replaced, and the pull that did; append-only. */
export const activitySuperseded = pgTable(
  'activity_superseded',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    pullNo: integer('pull_no').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    foreignKey({
      columns: [table.clientId, table.source, table.lineId, table.revision],
      foreignColumns: [activityLine.clientId, activityLine.source, activityLine.lineId, activityLine.revision],
    }),
  ],
)
