import { sql } from 'drizzle-orm'
import { check, date, foreignKey, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency, minor, safe } from '../columns.ts'
import { entry } from './entry.ts'

/** Append-only. Plus is a debit; minor units of the entry's currency, and of the client's base. */
export const entryLine = pgTable(
  'entry_line',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    lineNo: integer('line_no').notNull(),
    lineCount: integer('line_count').notNull(),
    date: date('date').notNull(),
    currency: currency().notNull(),
    account: text('account').notNull(),
    amount: minor('amount').notNull(),
    baseAmount: minor('base_amount').notNull(),
    taxCode: text('tax_code').notNull().default(''),
    segments: text('segments').notNull().default(''),
    /** With the posting's map version, the way back to its activity lines. */
    buckets: jsonb('buckets').notNull().default([]),
    routes: jsonb('routes').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number, table.lineNo] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number, table.lineCount, table.date, table.currency],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number, entry.lineCount, entry.date, entry.currency],
    }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    check('entry_line_no', sql`line_no BETWEEN 1 AND line_count`),
    check('entry_line_amount', safe('amount')),
    check('entry_line_base_amount', safe('base_amount')),
    index('register').on(table.clientId, table.account, table.date, table.fiscalYear, table.number, table.lineNo),
    index('entry_line_by_amount').on(table.clientId, table.amount),
  ],
)
