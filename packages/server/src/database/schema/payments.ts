import { sql } from 'drizzle-orm'
import { boolean, check, foreignKey, index, integer, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from './columns.ts'
import { entry } from './entries.ts'
import { act } from './settlements.ts'
import { source } from './sources.ts'

// Tie-out: what channels tender, held against what gateways collect.

/** Labels of means of payment that channels report, and since when; what tie-out looks for a source behind. */
export const tenderLabel = pgTable(
  'tender_label',
  {
    clientId: clientId(),
    /** The channel that reports it. */
    channel: text('channel').notNull(),
    label: text('label').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.channel, table.label] }),
    foreignKey({ columns: [table.clientId, table.channel], foreignColumns: [source.clientId, source.source] }),
  ],
)

/** Which source a label of a means of payment stands for, where it is not that source's own key. */
export const gatewayLabel = pgTable(
  'gateway_label',
  {
    clientId: clientId(),
    label: text('label').notNull(),
    source: text('source').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.label] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)

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
    /** order, reference or amount_day_name. */
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
    check('tender_match_by', sql`"by" IN ('order', 'reference', 'amount_day_name')`),
    index('match_doubtful').on(table.clientId).where(sql`to_pull IS NULL AND doubtful`),
    index('match_differs').on(table.clientId).where(sql`to_pull IS NULL AND difference <> 0`),
    uniqueIndex('tender_matched_once').on(table.clientId, table.channel, table.tenderLine).where(sql`to_pull IS NULL`),
  ],
)

/** What was decided of a payment that a buyer's bank took back: the entry that books it, and whether it was taken back. */
export const disputeDecision = pgTable(
  'dispute_decision',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    source: text('source').notNull(),
    /** The chargeback's line. */
    lineId: text('line_id').notNull(),
    /** written_off or credited; one that was won is closed by its reversal. */
    decision: text('decision').notNull(),
    note: text('note').notNull().default(''),
    actId: text('act_id').notNull(),
    undoneBy: text('undone_by'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number] }),
    // Two who decide at once: the second finds it decided.
    uniqueIndex('dispute_decided_once').on(table.clientId, table.source, table.lineId).where(sql`undone_by IS NULL`),
    check('dispute_decision_sort', sql`decision IN ('written_off', 'credited')`),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({ columns: [table.clientId, table.undoneBy], foreignColumns: [act.clientId, act.actId] }),
  ],
)
