import { documentNames } from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  boolean,
  char,
  check,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  unique,
} from 'drizzle-orm/pg-core'
import { account } from './books.ts'
import { client } from './clients.ts'
import { clientId, currency, minor, moment, oneOf, safe } from './columns.ts'
import { act, posting } from './settlements.ts'

// Entries, their lines and totals.

export const numberCounter = pgTable(
  'number_counter',
  {
    clientId: clientId().references(() => client.clientId),
    fiscalYear: integer('fiscal_year').notNull(),
    next: integer('next').notNull().default(1),
  },
  table => [primaryKey({ columns: [table.clientId, table.fiscalYear] })],
)

export const period = pgTable(
  'period',
  {
    clientId: clientId().references(() => client.clientId),
    month: char('month', { length: 7 }).notNull(),
    locked: boolean('locked').notNull().default(false),
    /** Why it was locked though something was open in it. */
    reason: text('reason').notNull().default(''),
  },
  table => [primaryKey({ columns: [table.clientId, table.month] })],
)

/** Append-only; balanced and sealed by a deferred check of its lines. Numbers have no gap within a fiscal year. */
export const entry = pgTable(
  'entry',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    date: date('date').notNull(),
    document: text('document').notNull(),
    source: text('source'),
    key: text('key'),
    generation: integer('generation'),
    currency: currency().notNull(),
    lineCount: integer('line_count').notNull(),
    payoutLine: text('payout_line'),
    memo: text('memo').notNull().default(''),
    actId: text('act_id').notNull(),
    reversesYear: integer('reverses_year'),
    reversesNumber: integer('reverses_number'),
    postedAt: moment('posted_at').notNull().defaultNow(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number] }),
    unique('entry_sealed').on(
      table.clientId,
      table.fiscalYear,
      table.number,
      table.lineCount,
      table.date,
      table.currency,
    ),
    unique('entry_reverses').on(table.clientId, table.reversesYear, table.reversesNumber),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({
      columns: [table.clientId, table.reversesYear, table.reversesNumber],
      foreignColumns: [table.clientId, table.fiscalYear, table.number],
    }),
    check('entry_document', oneOf('document', documentNames)),
    check('entry_has_lines', sql`line_count > 0`),
    index('entry_by_settlement').on(table.clientId, table.source, table.key, table.currency),
    index('entry_by_date').on(table.clientId, table.date),
    index('entry_by_hand').on(table.clientId).where(sql`source IS NULL`),
  ],
)

/** Append-only. Plus is a debit; minor units of the entry's currency, and of the client's base. */
export const entryLine = pgTable(
  'entry_line',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    lineNo: integer('line_no').notNull(),
    lineCount: integer('line_count').notNull(),
    date: date('date').notNull(),
    currency: currency().notNull(),
    account: text('account').notNull(),
    amount: minor('amount').notNull(),
    baseAmount: minor('base_amount').notNull(),
    taxCode: text('tax_code').notNull().default(''),
    segments: text('segments').notNull().default(''),
    /** With the posting's map version, the way back to its activity lines. */
    buckets: jsonb('buckets').notNull().default([]),
    routes: jsonb('routes').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number, table.lineNo] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number, table.lineCount, table.date, table.currency],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number, entry.lineCount, entry.date, entry.currency],
    }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    check('entry_line_no', sql`line_no BETWEEN 1 AND line_count`),
    check('entry_line_amount', safe('amount')),
    check('entry_line_base_amount', safe('base_amount')),
    index('register').on(table.clientId, table.account, table.date, table.fiscalYear, table.number, table.lineNo),
    index('entry_line_by_amount').on(table.clientId, table.amount),
  ],
)

/** Balances: kept by the transaction that posts, so that reports never add up the lines. */
export const accountTotal = pgTable(
  'account_total',
  {
    clientId: clientId(),
    account: text('account').notNull(),
    taxCode: text('tax_code').notNull(),
    segments: text('segments').notNull(),
    currency: currency().notNull(),
    day: date('day').notNull(),
    debit: minor('debit').notNull(),
    credit: minor('credit').notNull(),
    baseDebit: minor('base_debit').notNull(),
    baseCredit: minor('base_credit').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.account, table.taxCode, table.segments, table.currency, table.day] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)
