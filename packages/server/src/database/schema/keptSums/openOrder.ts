import { sql } from 'drizzle-orm'
import { boolean, index, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from '../columns.ts'

/** Orders of channels whose lines, as they stand, do not come to nothing; a line without an order stands for itself. Kept by triggers. */
export const openOrder = pgTable(
  'open_order',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    /** Empty for a line without an order. */
    orderId: text('order_id').notNull(),
    /** Empty for an order. */
    lineId: text('line_id').notNull(),
    /** Whether they are payouts: some channels count them elsewhere. */
    payout: boolean('payout').notNull(),
    available: minor('available').notNull(),
    pending: minor('pending').notNull(),
  },
  table => [
    primaryKey({
      columns: [table.clientId, table.source, table.currency, table.orderId, table.lineId, table.payout],
    }),
    index('order_not_open').on(table.clientId).where(sql`available = 0 AND pending = 0`),
  ],
)
