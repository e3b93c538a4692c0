import { sql } from 'drizzle-orm'
import { boolean, check, date, foreignKey, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from '../columns.ts'
import { source } from '../sources/source.ts'

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
    /** blocked, proposed, posted, set_aside, or elsewhere: it ended before its source's first day in these books. */
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
    /** A line lies far from its entry, or a payout from its transfer: a proof looks at it whatever the date. */
    oddDates: boolean('odd_dates').notNull().default(false),
    /** It had ended before its source's first day in these books, and was paid out since: only its payouts are booked here. */
    payoutsOnly: boolean('payouts_only').notNull().default(false),
    setAsideReason: text('set_aside_reason'),
    /** Somebody has said that its entry is no double of another in the ledger. */
    notDouble: boolean('not_double').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    check('settlement_state', sql`state IN ('blocked', 'proposed', 'posted', 'set_aside', 'elsewhere')`),
    index('settlement_touched').on(table.clientId).where(sql`touched`),
    index('settlement_by_date').on(table.clientId, table.entryDate),
    index('settlement_by_source').on(table.clientId, table.source, table.entryDate, table.key),
    index('settlement_odd_dates').on(table.clientId, table.source).where(sql`odd_dates`),
    index('settlement_by_state').on(table.clientId, table.state, table.entryDate),
  ],
)
