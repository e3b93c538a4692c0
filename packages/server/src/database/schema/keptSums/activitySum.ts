import { sql } from 'drizzle-orm'
import { check, date, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from '../columns.ts'

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
