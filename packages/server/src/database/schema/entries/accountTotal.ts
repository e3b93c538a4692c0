import { date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency, minor } from '../columns.ts'

/** Balances: kept by the transaction that posts, so that reports never add up the lines. */
export const accountTotal = pgTable(
  'account_total',
  {
    clientId: clientId(),
    account: text('account').notNull(),
    taxCode: text('tax_code').notNull(),
    segments: text('segments').notNull(),
    currency: currency().notNull(),
    day: date('day').notNull(),
    debit: minor('debit').notNull(),
    credit: minor('credit').notNull(),
    baseDebit: minor('base_debit').notNull(),
    baseCredit: minor('base_credit').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.account, table.taxCode, table.segments, table.currency, table.day] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)
