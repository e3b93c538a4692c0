import { sql } from 'drizzle-orm'
import { boolean, foreignKey, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { bankLine } from './bankLine.ts'
import { pairing } from './pairing.ts'

export const pairedBankLine = pgTable(
  'paired_bank_line',
  {
    clientId: clientId(),
    pairingId: text('pairing_id').notNull(),
    bankAccount: text('bank_account').notNull(),
    lineId: text('line_id').notNull(),
    active: boolean('active').notNull().default(true),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.pairingId, table.bankAccount, table.lineId] }),
    foreignKey({ columns: [table.clientId, table.pairingId], foreignColumns: [pairing.clientId, pairing.pairingId] }),
    foreignKey({
      columns: [table.clientId, table.bankAccount, table.lineId],
      foreignColumns: [bankLine.clientId, bankLine.bankAccount, bankLine.lineId],
    }),
    uniqueIndex('bank_line_paired_once').on(table.clientId, table.bankAccount, table.lineId).where(sql`active`),
  ],
)
