import { sql } from 'drizzle-orm'
import { check, date, foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency, minor, now, safe } from '../columns.ts'

/**
 * Append-only: one statement of a bank account, as it was read. Plus is money in, minor units; a balance that it does not state is null. What its own lines
 * come to is kept beside: of overlapping statements the lines are stored once.
 */
export const statement = pgTable(
  'statement',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    statementId: text('statement_id').notNull(),
    /** The bank's own number of it; empty where it gives none. */
    number: text('number').notNull().default(''),
    format: text('format').notNull(),
    currency: currency().notNull(),
    fromDate: date('from_date').notNull(),
    toDate: date('to_date').notNull(),
    opening: minor('opening'),
    closing: minor('closing'),
    lines: integer('lines').notNull(),
    sum: minor('sum').notNull(),
    pullId: text('pull_id').notNull(),
    at: now(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount, table.statementId] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
    check('statement_days', sql`from_date <= to_date`),
    check('statement_opening', safe('opening')),
    check('statement_closing', safe('closing')),
    check('statement_sum', safe('sum')),
  ],
)
