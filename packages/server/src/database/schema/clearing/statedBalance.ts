import { date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency, minor } from '../columns.ts'

/** What somebody outside says that an account holds at the end of a local date: an agency, a till's list of gift cards. Debit positive. */
export const statedBalance = pgTable(
  'stated_balance',
  {
    clientId: clientId(),
    account: text('account').notNull(),
    currency: currency().notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.account, table.currency, table.date] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)
