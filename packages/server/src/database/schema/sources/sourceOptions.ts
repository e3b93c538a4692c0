import { foreignKey, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { source } from './source.ts'

/** A source's options from a version of the map on; append-only. Version 0: as it was made. What stands now is kept with the source as well. */
export const sourceOptions = pgTable(
  'source_options',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    version: integer('version').notNull(),
    options: jsonb('options').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.version] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)
