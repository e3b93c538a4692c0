import { sql } from 'drizzle-orm'
import { boolean, check, foreignKey, index, integer, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from '../columns.ts'
import { source } from '../sources/source.ts'

/**
 * A channel's tender and a gateway's collection that are the same money: the collection books nothing. From one of the gateway's pulls
 * to another, so that what was booked before stays as it was seen then.
 */
export const tenderMatch = pgTable(
  'tender_match',
  {
    clientId: clientId(),
    gateway: text('gateway').notNull(),
    collectionLine: text('collection_line').notNull(),
    fromPull: integer('from_pull').notNull(),
    /** The pull that showed it to be none; null while it stands. */
    toPull: integer('to_pull'),
    channel: text('channel').notNull(),
    tenderLine: text('tender_line').notNull(),
    /** by_hand, order, reference or amount_day_name. */
    by: text('by').notNull(),
    currency: currency().notNull(),
    /** Collected beyond what was tendered, minor units, plus in the seller's favour. */
    difference: minor('difference').notNull().default(0),
    /** A line of it was revised since it was looked at last. */
    doubtful: boolean('doubtful').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.gateway, table.collectionLine, table.fromPull] }),
    foreignKey({ columns: [table.clientId, table.gateway], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.channel], foreignColumns: [source.clientId, source.source] }),
    uniqueIndex('collection_matched_once')
      .on(table.clientId, table.gateway, table.collectionLine)
      .where(sql`to_pull IS NULL`),
    check('tender_match_by', sql`"by" IN ('by_hand', 'order', 'reference', 'amount_day_name')`),
    index('match_doubtful').on(table.clientId).where(sql`to_pull IS NULL AND doubtful`),
    index('match_differs').on(table.clientId).where(sql`to_pull IS NULL AND difference <> 0`),
    uniqueIndex('tender_matched_once').on(table.clientId, table.channel, table.tenderLine).where(sql`to_pull IS NULL`),
  ],
)
