import { sql } from 'drizzle-orm'
import { boolean, date, foreignKey, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency, minor } from '../columns.ts'
import { entry } from '../entries/entry.ts'

/** A posted transfer: money that left a clearing account for a bank account (plus) or came from it (minus). */
export const transfer = pgTable(
  'transfer',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    payoutLine: text('payout_line').notNull(),
    generation: integer('generation').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    bankAccount: text('bank_account').notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
    reference: text('reference'),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    reversed: boolean('reversed').notNull().default(false),
    paired: boolean('paired').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.payoutLine, table.generation] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
    index('transfer_by_date').on(table.clientId, table.bankAccount, table.date),
    index('transfer_open').on(table.clientId, table.bankAccount, table.date).where(sql`NOT paired AND NOT reversed`),
  ],
)
