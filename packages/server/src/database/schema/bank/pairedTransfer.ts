import { sql } from 'drizzle-orm'
import { boolean, foreignKey, integer, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { pairing } from './pairing.ts'
import { transfer } from './transfer.ts'

export const pairedTransfer = pgTable(
  'paired_transfer',
  {
    clientId: clientId(),
    pairingId: text('pairing_id').notNull(),
    source: text('source').notNull(),
    payoutLine: text('payout_line').notNull(),
    generation: integer('generation').notNull(),
    active: boolean('active').notNull().default(true),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.pairingId, table.source, table.payoutLine, table.generation] }),
    foreignKey({ columns: [table.clientId, table.pairingId], foreignColumns: [pairing.clientId, pairing.pairingId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.payoutLine, table.generation],
      foreignColumns: [transfer.clientId, transfer.source, transfer.payoutLine, transfer.generation],
    }),
    uniqueIndex('transfer_paired_once')
      .on(table.clientId, table.source, table.payoutLine, table.generation)
      .where(sql`active`),
  ],
)
