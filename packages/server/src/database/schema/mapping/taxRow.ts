import { date, foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { taxCode } from '../books/taxCode.ts'
import { client } from '../clients/client.ts'
import { clientId } from '../columns.ts'

/** Which tax a supply bears: by where, what and when. A condition that is null is none. */
export const taxRow = pgTable(
  'tax_row',
  {
    clientId: clientId().references(() => client.clientId),
    rowId: integer('row_id').notNull(),
    source: text('source'),
    kind: text('kind'),
    label: text('label'),
    region: text('region'),
    class: text('class'),
    from: date('from'),
    /** Null: no tax on purpose. */
    code: text('code'),
    /** Why a code of another country than the region's is meant; empty: not said. */
    reason: text('reason').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.rowId] }),
    foreignKey({ columns: [table.clientId, table.code], foreignColumns: [taxCode.clientId, taxCode.code] }),
  ],
)
