import { foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { serviceGrant } from '../grants/serviceGrant.ts'

/** The outside ledger whose lists a client's books are brought over from, and which of its companies; one a client. */
export const ledgerLink = pgTable(
  'ledger_link',
  {
    clientId: clientId(),
    grantId: text('grant_id').notNull(),
    service: text('service').notNull(),
    company: text('company').notNull(),
    companyName: text('company_name').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId] }),
    foreignKey({
      columns: [table.clientId, table.grantId],
      foreignColumns: [serviceGrant.clientId, serviceGrant.grantId],
    }),
  ],
)
