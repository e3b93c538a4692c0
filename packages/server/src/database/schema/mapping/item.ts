import { foreignKey, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { taxCode } from '../books/taxCode.ts'
import { clientId } from '../columns.ts'

/** What is sold, by its SKU; routes and the cost of goods point here. */
export const item = pgTable(
  'item',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    name: text('name').notNull(),
    otherNames: jsonb('other_names').notNull().default([]),
    account: text('account').notNull(),
    taxCode: text('tax_code'),
    /** Cost of one by first date, minor units of base. */
    costs: jsonb('costs').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.taxCode], foreignColumns: [taxCode.clientId, taxCode.code] }),
  ],
)
