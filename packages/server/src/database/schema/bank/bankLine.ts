import { check, date, foreignKey, index, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency, minor, safe } from '../columns.ts'

/** Append-only: what a bank statement says. Plus is money in, minor units. */
export const bankLine = pgTable(
  'bank_line',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    lineId: text('line_id').notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
    currency: currency().notNull(),
    description: text('description').notNull().default(''),
    reference: text('reference').notNull().default(''),
    pullId: text('pull_id').notNull(),
    /** What it was read from: lines of other formats are held against it by what they say, since ids differ. Null: read before that was kept. */
    format: text('format'),
    /** What the amount was before exchange and charges; null: the statement tells nothing of it. */
    details: jsonb('details'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount, table.lineId] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
    check('bank_line_amount', safe('amount')),
    index('bank_line_by_date').on(table.clientId, table.bankAccount, table.date),
    index('bank_line_by_amount').on(table.clientId, table.amount),
  ],
)
