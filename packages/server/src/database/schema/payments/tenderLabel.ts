import { foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { source } from '../sources/source.ts'

/** Labels of means of payment that channels report, and since when; what tie-out looks for a source behind. */
export const tenderLabel = pgTable(
  'tender_label',
  {
    clientId: clientId(),
    /** The channel that reports it. */
    channel: text('channel').notNull(),
    label: text('label').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.channel, table.label] }),
    foreignKey({ columns: [table.clientId, table.channel], foreignColumns: [source.clientId, source.source] }),
  ],
)
