import { sql } from 'drizzle-orm'
import { boolean, check, date, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from './columns.ts'

/** Sums per kind, category, region and week of the activity as it is now: what the mapping page shows. */
export const activityWeek = pgTable(
  'activity_week',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    kind: text('kind').notNull(),
    category: text('category').notNull(),
    region: text('region').notNull(),
    currency: currency().notNull(),
    week: date('week').notNull(),
    amount: minor('amount').notNull(),
    lines: integer('lines').notNull(),
  },
  table => [
    primaryKey({
      columns: [table.clientId, table.source, table.kind, table.category, table.region, table.currency, table.week],
    }),
  ],
)

/**
 * What the lines of a settlement or day come to, by their day, as moves: a line adds to the pull that brought it, and is taken off again in the pull that
 * replaced it, so that up to any pull the sum is that of what stood then. Kept by triggers of the tables that it adds up.
 */
export const activitySum = pgTable(
  'activity_sum',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    settlementKey: text('settlement_key').notNull(),
    currency: currency().notNull(),
    localDate: date('local_date').notNull(),
    pullNo: integer('pull_no').notNull(),
    /** tender, payout, stock, matched (collections that tenders have booked) or other. */
    part: text('part').notNull(),
    status: text('status').notNull(),
    /** Of tenders, their label; else empty. */
    label: text('label').notNull(),
    amount: minor('amount').notNull(),
    lines: integer('lines').notNull(),
  },
  table => [
    primaryKey({
      name: 'activity_sum_pk',
      columns: [
        table.clientId,
        table.source,
        table.settlementKey,
        table.currency,
        table.localDate,
        table.pullNo,
        table.part,
        table.status,
        table.label,
      ],
    }),
    check('activity_sum_part', sql`part IN ('tender', 'payout', 'stock', 'matched', 'other')`),
    index('activity_sum_by_day').on(table.clientId, table.source, table.localDate),
  ],
)

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

/** Tenders and collections, as they stand, that are in no match that holds. Kept by triggers. */
export const openTie = pgTable(
  'open_tie',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    kind: text('kind').notNull(),
  },
  table => [primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] })],
)
