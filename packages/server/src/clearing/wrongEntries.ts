import type { NamedAmount } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { type ClearingAccount, namesOf } from '../activity/clearingAccounts.ts'
import type { RoutedLine } from '../activity/elsewhereLines.ts'
import { isBooked, isSumBooked } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { settlementRef } from './proofRows.ts'
import type { TenderSide } from './tenderedHere.ts'

/**
 * Entries of sources whose amount on an account is not that of their lines, settlement by settlement: entries less lines. What was taken back
 * comes to nothing with its mirror; of the rest the lines are those that its posting and its corrections saw.
 */
export const loadWrongEntries = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: {
    readonly date: string
    readonly side: TenderSide | null
    readonly elsewhere: readonly RoutedLine[]
    readonly routed: readonly RoutedLine[]
  },
): Promise<NamedAmount[]> => {
  const apart = new Map<string, number>()
  const note = (line: RoutedLine, amount: number): void => {
    if (line.state === 'posted' && line.held) apart.set(placeOf(line), (apart.get(placeOf(line)) ?? 0) + amount)
  }
  for (const line of at.elsewhere) note(line, -line.amount)
  for (const line of at.routed) note(line, -line.amount)
  const rows = await rowsOf(
    tx,
    {
      of: is.oneOf('journal', 'payout', 'total'),
      source: is.maybe(is.text),
      key: is.maybe(is.text),
      date: is.date,
      booked: is.minor,
      lines: is.minor,
    },
    sql`SELECT 'journal' AS of, j.* FROM (${journals(clearing, at.side)}) j
      UNION ALL SELECT 'payout', p.* FROM (${payouts(clearing)}) p
      UNION ALL SELECT 'total', t.* FROM (${total(clearing, at.date)}) t`,
  )
  return rows
    .map(row => (row.of === 'journal' ? { ...row, lines: row.lines + (apart.get(placeOf(row)) ?? 0) } : row))
    .filter(row => row.booked !== row.lines && row.date <= at.date)
    .map(({ of, source, key, date, booked, lines }) => ({
      ...(of === 'total'
        ? {
            name: `the entries of ${clearing.account} beside its kept balance`,
            ref: { of: 'account' as const, account: clearing.account },
          }
        : settlementRef({ source: source ?? '', key: key ?? '' })),
      date,
      amount: booked - lines,
    }))
}

const placeOf = (row: { source: string | null; key: string | null }): string => JSON.stringify([row.source, row.key])

/** Sums of lines of posted settlements per settlement, in the sign of the account. */
const linesOf = (clearing: ClearingAccount, wanted: { sources: SQL; sums: SQL; sign: 1 | -1 }): SQL => sql`
  SELECT s.source, s.key, ${wanted.sign}::int * sum(a.amount) AS amount
  FROM settlement_as_of s JOIN activity_sum a ON a.client_id = s.client_id AND a.source = s.source AND a.settlement_key = s.key
    AND a.currency = s.currency AND a.pull_no <= s.as_of
  WHERE s.client_id = current_client() AND s.stands AND NOT s.payouts_only AND s.currency = ${clearing.currency} AND ${wanted.sources} AND ${wanted.sums} AND ${isSumBooked}
  GROUP BY 1, 2`

const journals = (clearing: ClearingAccount, side: TenderSide | null): SQL => sql`
  SELECT source, key, coalesce((SELECT s.entry_date::text FROM settlement s WHERE s.client_id = current_client() AND s.source = both_sides.source
      AND s.key = both_sides.key AND s.currency = ${clearing.currency}), min(date)::text, '0001-01-01') AS date,
    coalesce(sum(booked), 0)::bigint AS booked, coalesce(sum(lines), 0)::bigint AS lines
  FROM (
    SELECT e.source, e.key, min(e.date) AS date, sum(l.amount) AS booked, NULL::numeric AS lines
    FROM entry_line l JOIN entry e ON e.client_id = l.client_id AND e.fiscal_year = l.fiscal_year AND e.number = l.number
    WHERE l.client_id = current_client() AND l.account = ${clearing.account} AND l.currency = ${clearing.currency}
      AND e.source IS NOT NULL AND e.payout_line IS NULL AND NOT ${isDocument('opens')} GROUP BY 1, 2
    UNION ALL
    SELECT own.source, own.key, NULL, NULL, own.amount FROM (${linesOf(clearing, {
      sources: sql`s.source = ANY(${namesOf(clearing.sources)}::text[])`,
      sums: sql`a.part IN ('tender', 'other')`,
      sign: 1,
    })}) own
    ${
      side === null
        ? sql``
        : sql`UNION ALL SELECT sent.source, sent.key, NULL, NULL, sent.amount FROM (${linesOf(clearing, {
            sources: sql`s.source = ANY(${sql.param([...side.channels])}::text[])`,
            sums: side.sums,
            sign: -1,
          })}) sent`
    }
  ) both_sides
  GROUP BY source, key`

const payouts = (clearing: ClearingAccount): SQL => sql`
  SELECT source, key, min(date)::text AS date, coalesce(sum(booked), 0)::bigint AS booked, coalesce(sum(lines), 0)::bigint AS lines
  FROM (
    SELECT e.source, e.key, e.payout_line AS line, min(e.date) AS date, sum(l.amount) AS booked, NULL::numeric AS lines
    FROM entry_line l JOIN entry e ON e.client_id = l.client_id AND e.fiscal_year = l.fiscal_year AND e.number = l.number
    WHERE l.client_id = current_client() AND l.account = ${clearing.account} AND l.currency = ${clearing.currency}
      AND e.payout_line IS NOT NULL GROUP BY 1, 2, 3
    UNION ALL
    SELECT s.source, s.key, l.line_id, l.local_date, NULL, l.amount
    FROM settlement_as_of s
    JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
      AND l.from_pull <= s.as_of AND coalesce(l.to_pull > s.as_of, true)
    WHERE s.client_id = current_client() AND s.stands AND s.currency = ${clearing.currency}
      AND s.source = ANY(${namesOf(clearing.sources)}::text[]) AND ${kindIs('payout')} AND ${isBooked}
  ) both_sides
  GROUP BY source, key, line HAVING coalesce(sum(booked), 0) <> coalesce(sum(lines), 0)`

// Balances come from kept totals: where these are not the sum of the entries, every page that reads them is wrong.
const total = (clearing: ClearingAccount, date: string): SQL => sql`
  SELECT NULL, NULL, ${date}::text AS date,
    (SELECT coalesce(sum(l.amount), 0) FROM entry_line l WHERE l.client_id = current_client() AND l.account = ${clearing.account}
      AND l.currency = ${clearing.currency} AND l.date <= ${date}::date)::bigint AS booked,
    (SELECT coalesce(sum(t.debit - t.credit), 0) FROM account_total t WHERE t.client_id = current_client() AND t.account = ${clearing.account}
      AND t.currency = ${clearing.currency} AND t.day <= ${date}::date)::bigint AS lines`
