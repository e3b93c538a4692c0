import { sql } from 'drizzle-orm'
import {
  boolean,
  check,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uuid,
} from 'drizzle-orm/pg-core'
import { account } from './books.ts'
import { client } from './clients.ts'
import { clientId, currency, minor, moment, safe } from './columns.ts'

// Sources, and what they report.

export const source = pgTable(
  'source',
  {
    clientId: clientId().references(() => client.clientId),
    source: text('source').notNull(),
    name: text('name').notNull(),
    shape: text('shape').notNull(),
    options: jsonb('options').notNull().default({}),
    bankTexts: jsonb('bank_texts').notNull().default([]),
    /** Where it is pulled from: null for sources that come as files only. */
    address: text('address'),
    credentials: jsonb('credentials'),
    cursor: text('cursor'),
    pulledTo: moment('pulled_to'),
    /** Up to when the source was asked, however quiet it was; null where it comes as files: then its last line says so. */
    readTo: moment('read_to'),
    /** Number of the last pull or upload that was stored; the lock on this row orders them. */
    lastPull: integer('last_pull').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source] }),
    check('source_shape', sql`shape IN ('combined', 'channel', 'gateway')`),
  ],
)

export const sourceClearing = pgTable(
  'source_clearing',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    account: text('account').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.currency] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** Bank accounts that a source pays into or draws from; region '' serves all. */
export const sourceBank = pgTable(
  'source_bank',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    direction: text('direction').notNull(),
    currency: currency().notNull(),
    region: text('region').notNull().default(''),
    account: text('account').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.direction, table.currency, table.region] }),
    check('source_bank_direction', sql`direction IN ('into', 'from')`),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** Append-only. A line that came back changed is the next revision; `activity_superseded` names the ones before. */
export const activityLine = pgTable(
  'activity_line',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    pullNo: integer('pull_no').notNull(),
    settlementId: text('settlement_id'),
    /** The settlement's id, or `day:YYYY-MM-DD` of the business day. */
    settlementKey: text('settlement_key').notNull(),
    currency: currency().notNull(),
    occurredAt: moment('occurred_at').notNull(),
    occurredText: text('occurred_text').notNull(),
    localDate: date('local_date').notNull(),
    kind: text('kind').notNull(),
    orderId: text('order_id'),
    gateway: text('gateway'),
    method: text('method'),
    category: text('category'),
    sku: text('sku'),
    /** The goods that it names; any other free text is personal. */
    description: text('description'),
    quantity: text('quantity'),
    unitPrice: minor('unit_price'),
    location: text('location'),
    region: text('region'),
    /** Whom it tells of: a row of `personal`, from which the person may be erased. */
    personId: uuid('person_id'),
    amount: minor('amount').notNull(),
    taxAmount: minor('tax_amount'),
    taxLabel: text('tax_label'),
    relatedId: text('related_id'),
    status: text('status').notNull(),
    availableAt: text('available_at'),
    url: text('url'),
    /** What it tells of payment and dispatch, and the status it would have without waiting for them. */
    extra: jsonb('extra'),
    /** First 52 bits of a digest of everything above that the source said; of persons it holds the id. */
    contentHash: minor('content_hash').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    // No foreign key to the source: its check of each row took a quarter of the insert. Lines come in under the lock of
    // their source's row, and their settlement, which is made with them, refers to it.
    check('activity_line_amount', safe('amount')),
    check('activity_line_status', sql`status IN ('available', 'pending', 'failed')`),
    index('activity_by_settlement').on(table.clientId, table.source, table.settlementKey, table.currency),
    index('activity_by_order').on(table.clientId, table.orderId),
    index('activity_by_amount').on(table.clientId, table.amount),
    index('activity_by_date').on(table.clientId, table.source, table.localDate),
    index('activity_waiting').on(table.clientId, table.source).where(sql`status <> 'available'`),
    index('activity_reserve').on(table.clientId, table.source).where(sql`kind IN ('reserve_kept', 'reserve_released')`),
    index('activity_by_related')
      .on(table.clientId, table.source, table.relatedId)
      .where(sql`kind IN ('refund', 'shipping_refund', 'tax_refund', 'discount') AND related_id IS NOT NULL`),
    index('activity_sold')
      .on(table.clientId, table.source, table.orderId)
      .where(sql`kind = 'sale' AND status = 'available' AND order_id IS NOT NULL`),
    index('activity_disputed')
      .on(table.clientId, table.source)
      .where(sql`kind IN ('chargeback', 'chargeback_reversal')`),
    index('activity_paid')
      .on(table.clientId, table.source, table.settlementKey)
      .where(sql`kind IN ('payout', 'payout_returned')`),
    // What one pull brought lies together: a few pages.
    index('activity_by_pull').using('brin', table.clientId, table.pullNo),
    index('activity_tie_out')
      .on(table.clientId, table.source)
      .where(sql`kind IN ('tender', 'tender_returned', 'collected', 'collected_back')`),
  ],
)

/** Personal data of activity, beside it: the one part of it that can be erased. An erased row stays, so that no pull brings it back. */
export const personal = pgTable(
  'personal',
  {
    clientId: clientId(),
    personId: uuid('person_id').notNull(),
    customer: text('customer'),
    email: text('email'),
    shipTo: text('ship_to'),
    note: text('note'),
    rest: jsonb('rest'),
    erasedAt: moment('erased_at'),
  },
  table => [primaryKey({ columns: [table.clientId, table.personId] })],
)

/** A source's options from a version of the map on; append-only. Version 0: as it was made. What stands now is kept with the source as well. */
export const sourceOptions = pgTable(
  'source_options',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    version: integer('version').notNull(),
    options: jsonb('options').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.version] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)

/** Revisions that a later one has replaced, and the pull that did; append-only. */
export const activitySuperseded = pgTable(
  'activity_superseded',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    pullNo: integer('pull_no').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    foreignKey({
      columns: [table.clientId, table.source, table.lineId, table.revision],
      foreignColumns: [activityLine.clientId, activityLine.source, activityLine.lineId, activityLine.revision],
    }),
  ],
)

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
