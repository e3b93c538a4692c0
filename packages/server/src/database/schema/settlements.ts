import { sql } from 'drizzle-orm'
import { boolean, check, date, foreignKey, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from './clients.ts'
import { clientId, currency, minor, now, oneOf } from './columns.ts'
import { mapVersion } from './mapping.ts'
import { source } from './sources.ts'

// Settlements, and what was done to them.

/** One settlement or business day as it stands now. Amounts in its currency, minor units. */
export const settlement = pgTable(
  'settlement',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    hasHead: boolean('has_head').notNull().default(false),
    periodStart: date('period_start'),
    periodEnd: date('period_end'),
    openingBalance: minor('opening_balance'),
    closingBalance: minor('closing_balance'),
    payoutDate: date('payout_date'),
    payoutReference: text('payout_reference'),
    url: text('url'),
    /** Lines of it were stored since it was composed: it is brought up to date at the pull's end. */
    touched: boolean('touched').notNull().default(false),
    /** blocked, proposed, posted or set_aside. */
    state: text('state').notNull().default('blocked'),
    firstDate: date('first_date'),
    lastDate: date('last_date'),
    entryDate: date('entry_date'),
    /** Once posted: the last of its lines', entries' and transfers' dates. From then on it is no item of a proof. */
    settledBy: date('settled_by'),
    lines: integer('lines').notNull().default(0),
    gross: minor('gross').notNull().default(0),
    tax: minor('tax').notNull().default(0),
    fees: minor('fees').notNull().default(0),
    payout: minor('payout').notNull().default(0),
    balance: minor('balance').notNull().default(0),
    blocks: jsonb('blocks').notNull().default([]),
    mapVersion: integer('map_version').notNull().default(0),
    generation: integer('generation').notNull().default(0),
    /** Revised lines since it was posted, and what they come to. */
    corrections: integer('corrections').notNull().default(0),
    correctionAmount: minor('correction_amount').notNull().default(0),
    setAsideReason: text('set_aside_reason'),
    /** Somebody has said that its entry is no double of another in the ledger. */
    notDouble: boolean('not_double').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    check('settlement_state', sql`state IN ('blocked', 'proposed', 'posted', 'set_aside')`),
    index('settlement_touched').on(table.clientId).where(sql`touched`),
    index('settlement_by_date').on(table.clientId, table.entryDate),
    index('settlement_by_source').on(table.clientId, table.source, table.entryDate, table.key),
    index('settlement_by_state').on(table.clientId, table.state, table.entryDate),
  ],
)

/** What can be done that is written down. */
export const actSorts = [
  'post',
  'take_back',
  'set_aside',
  'no_double',
  'take_up',
  'book_correction',
  'confirm_pairings',
  'undo_pairing',
  'code_line',
  'set_aside_bank',
  'grant_bank',
  'save_wording',
  'state_balance',
  'save_routes',
  'save_rules',
  'save_items',
  'save_tax_codes',
  'save_tax_rows',
  'save_rates',
  'save_labels',
  'save_options',
  'decide_dispute',
  'undo_dispute',
  'file_tax',
  'withdraw_tax_filing',
  'post_opening',
  'undo_opening',
  'lock_period',
  'unlock_period',
] as const

/** Something done in one act: posted, taken back, confirmed. Append-only. */
export const act = pgTable(
  'act',
  {
    clientId: clientId().references(() => client.clientId),
    actId: text('act_id').notNull(),
    sort: text('sort').notNull(),
    at: now(),
    by: integer('by').notNull(),
    note: text('note').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.actId] }),
    check('act_sort', oneOf('sort', actSorts)),
    index('act_by_time').on(table.clientId, table.at),
  ],
)

/** Append-only. A generation above 1 refers to the reversal of the one before. */
export const posting = pgTable(
  'posting',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    previous: integer('previous').generatedAlwaysAs(sql`nullif(generation - 1, 0)`),
    actId: text('act_id').notNull(),
    mapVersion: integer('map_version').notNull(),
    /** Activity stored up to this pull of the source went in. */
    pullNo: integer('pull_no').notNull(),
    inputHash: text('input_hash').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency, table.generation] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency],
      foreignColumns: [settlement.clientId, settlement.source, settlement.key, settlement.currency],
    }),
    foreignKey({
      columns: [table.clientId, table.mapVersion],
      foreignColumns: [mapVersion.clientId, mapVersion.version],
    }),
  ],
)

/** Unique per posting. Append-only. The key of `posting.previous` points here. */
export const reversal = pgTable(
  'reversal',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    actId: text('act_id').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency, table.generation] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)

/** Revisions booked after the posting, up to `pullNo`; one per posting and pull. Append-only. */
export const correction = pgTable(
  'correction',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    pullNo: integer('pull_no').notNull(),
    actId: text('act_id').notNull(),
  },
  table => [
    primaryKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation, table.pullNo],
    }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)
