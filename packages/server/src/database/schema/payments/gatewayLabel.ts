import { foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { source } from '../sources/source.ts'

/** Which source a label of a means of payment stands for, where it is not that source's own key. */
export const gatewayLabel = pgTable(
  'gateway_label',
  {
    clientId: clientId(),
    label: text('label').notNull(),
    source: text('source').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.label] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)
