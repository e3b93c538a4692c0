import { date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId } from '../columns.ts'

/** Up to which local date a bank account's statement is known, however quiet it was. */
export const bankReach = pgTable(
  'bank_reach',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    readTo: date('read_to').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
  ],
)
