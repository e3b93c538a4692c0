import { foreignKey, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId } from '../columns.ts'

/** What a bank has granted this client for one of its accounts. Without one, nothing is asked of any bank. */
export const bankGrant = pgTable(
  'bank_grant',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    address: text('address').notNull(),
    credentials: jsonb('credentials').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
  ],
)
