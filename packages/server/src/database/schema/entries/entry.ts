import { documentNames } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { check, date, foreignKey, index, integer, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core'
import { clientId, currency, oneOf, writtenAt } from '../columns.ts'
import { act } from '../settlements/act.ts'
import { posting } from '../settlements/posting.ts'

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
    postedAt: writtenAt('posted_at'),
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
