import { date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, minor } from '../columns.ts'
import { bankLine } from './bankLine.ts'

/** Bank lines that are not paired yet; a row goes when its line is paired and comes back when that is undone. */
export const openBankLine = pgTable(
  'open_bank_line',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    lineId: text('line_id').notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount, table.lineId] }),
    foreignKey({
      columns: [table.clientId, table.bankAccount, table.lineId],
      foreignColumns: [bankLine.clientId, bankLine.bankAccount, bankLine.lineId],
    }),
  ],
)
