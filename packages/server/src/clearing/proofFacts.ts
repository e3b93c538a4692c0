import {
  addDays,
  alikePayouts,
  alikeTies,
  missingDays,
  missingNumbers,
  type NamedFact,
  openOrderLimit,
  tiesLookedDays,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { type ClearingAccount, countsInOrders, namesOf } from '../activity/clearingAccounts.ts'
import type { RoutedLine } from '../activity/elsewhereLines.ts'
import { isBooked, revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import type { TenderSide } from './tenderedHere.ts'

// What a proof names without an amount: likely doubles, what was left out, orders open for too long. The rules are core's.

/** Payouts of an account's sources, and tenders and collections on it, that are likely doubles, as of a date. */
export const loadAlike = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { readonly date: string; readonly side: TenderSide | null },
): Promise<NamedFact[]> => {
  const payouts = await rowsOf(
    tx,
    {
      source: is.text,
      currency: is.text,
      lineId: is.text,
      kind: is.oneOf('payout', 'payout_returned'),
      amount: is.minor,
      date: is.date,
      reference: is.maybe(is.text),
      arrived: is.yes,
    },
    sql`
    WITH paid AS (
      SELECT l.source, l.currency, l.line_id, l.kind, l.amount, l.local_date, l.settlement_key,
        count(*) OVER (PARTITION BY l.source, l.kind, l.amount, l.local_date) AS alike
      FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ANY(${namesOf(clearing.sources)}::text[]) AND l.currency = ${clearing.currency}
        AND ${kindIs('payout')} AND ${isBooked} AND ${revisionAsOf('now')} AND l.local_date <= ${at.date}::date + 30)
    SELECT p.source, p.currency, p.line_id AS "lineId", p.kind, p.amount, p.local_date::text AS date, s.payout_reference AS reference,
      EXISTS (SELECT FROM paired_transfer pt WHERE pt.client_id = current_client() AND pt.source = p.source AND pt.payout_line = p.line_id
        AND pt.active) AS arrived
    FROM paid p LEFT JOIN settlement s ON s.client_id = current_client() AND s.source = p.source AND s.key = p.settlement_key
      AND s.currency = p.currency
    WHERE (p.alike > 1 OR p.kind = 'payout_returned') AND (s.state IS NULL OR s.state <> 'elsewhere')`,
  )
  const ties = await rowsOf(
    tx,
    {
      source: is.text,
      currency: is.text,
      lineId: is.text,
      kind: is.text,
      orderId: is.maybe(is.text),
      amount: is.minor,
      micros: is.whole,
      date: is.date,
    },
    sql`
    SELECT source, currency, line_id AS "lineId", kind, order_id AS "orderId", amount, local_date::text AS date,
      (extract(epoch FROM occurred_at) * 1000000)::bigint AS micros
    FROM (SELECT l.*, count(*) OVER (PARTITION BY l.source, l.kind, l.order_id, l.amount, l.occurred_at) AS alike
      FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ANY(${sql.param(tellingSources(clearing, at.side))}::text[])
        AND l.local_date BETWEEN ${addDays(at.date, -tiesLookedDays)}::date AND ${at.date}::date AND l.currency = ${clearing.currency}
        AND l.order_id IS NOT NULL AND ${kindIs('tie')} AND ${isBooked} AND ${revisionAsOf('now')}
        AND (l.source = ANY(${namesOf(clearing.sources)}::text[]) ${at.side ? sql`OR ${at.side.lines}` : sql``})) l
    WHERE alike > 1`,
  )
  return [
    ...alikePayouts(payouts).map(({ source, lineId, date }) => ({
      name: lineId,
      date,
      ref: refOfLine(source, lineId),
    })),
    ...alikeTies(ties.map(({ micros, ...line }) => ({ ...line, instant: Math.floor(micros / 1000) }))).map(line => ({
      ...{ name: line.orderId ?? line.lineId, date: line.date },
      ref: refOfLine(line.source, line.lineId),
    })),
  ]
}

const refOfLine = (source: string, lineId: string) => ({ of: 'line', source, lineId }) as const

const tellingSources = ({ sources }: ClearingAccount, side: TenderSide | null): string[] => [
  ...new Set([...sources.map(one => one.source), ...(side?.channels ?? [])]),
]

/** Condition that nobody has said, as of a date, that what a proof names is as it should be; of a source and a name. */
const unanswered = (about: 'day' | 'statement' | 'order', of: { source: SQL; name: SQL; date: string }): SQL =>
  sql`NOT EXISTS (SELECT FROM proof_answer a WHERE a.client_id = current_client() AND a.undone_by IS NULL AND a.about = ${about}
    AND a.source = ${of.source} AND a.name = ${of.name} AND coalesce(a.until >= ${of.date}::date, true))`

/** Days and statements that an account's sources left out before a date, source by source; what was answered is left out. */
export const loadMissing = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string,
): Promise<
  { readonly source: string; readonly name: string; readonly days: string[]; readonly statements: string[] }[]
> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, days: is.list(is.text), heads: is.list(is.text), bookedFrom: is.maybe(is.text) },
    sql`
    SELECT f.source, f.options->>'bookedFrom' AS "bookedFrom",
      ARRAY(SELECT DISTINCT substr(s.key, 5) FROM settlement s WHERE s.client_id = f.client_id AND s.source = f.source
        AND s.currency = ${clearing.currency} AND s.key ^@ 'day:' AND s.lines > 0) AS days,
      ARRAY(SELECT s.key FROM settlement s WHERE s.client_id = f.client_id AND s.source = f.source AND s.currency = ${clearing.currency}
        AND s.has_head AND coalesce(s.period_start, '0001-01-01') <= ${date}::date) AS heads
    FROM source f WHERE f.client_id = current_client() AND f.source = ANY(${namesOf(clearing.sources)}::text[]) ORDER BY f.source`,
  )
  const found = rows.map(({ source, days, heads, bookedFrom }) => ({
    source,
    name: clearing.sources.find(one => one.source === source)?.name ?? source,
    days: missingDays(days, date).filter(day => day >= (bookedFrom ?? '')),
    statements: missingNumbers(heads),
  }))
  const named = found.flatMap(({ source, days, statements }) => [
    ...days.map(name => ({ source, about: 'day', name })),
    ...statements.map(name => ({ source, about: 'statement', name })),
  ])
  if (named.length === 0) return []
  const answered = await rowsOf(
    tx,
    { source: is.text, about: is.text, name: is.text },
    sql`SELECT a.source, a.about, a.name FROM proof_answer a
      JOIN jsonb_to_recordset(${JSON.stringify(named)}::jsonb) AS n(source text, about text, name text) USING (source, about, name)
      WHERE a.client_id = current_client() AND a.undone_by IS NULL`,
  )
  const isAnswered = (source: string, about: string, name: string): boolean =>
    answered.some(one => one.source === source && one.about === about && one.name === name)
  return found
    .map(one => ({
      ...one,
      days: one.days.filter(day => !isAnswered(one.source, 'day', day)),
      statements: one.statements.filter(name => !isAnswered(one.source, 'statement', name)),
    }))
    .filter(({ days, statements }) => days.length + statements.length > 0)
}

/** The same as facts of a proof. */
export const missingFacts = async (tx: Transaction, clearing: ClearingAccount, date: string): Promise<NamedFact[]> =>
  (await loadMissing(tx, clearing, date)).flatMap(({ source, name, days, statements }) => [
    ...days.map(day => ({ name: `${name} ${day}`, date: day, ref: { of: 'source', source } as const })),
    ...statements.map(number => ({ name: number, date, ref: { of: 'source', source } as const })),
  ])

/** An order of a channel that is open at a date. */
export interface OrderOpenAt {
  readonly source: string
  readonly order: string | null
  readonly line: string
  /** Local date of its first line. */
  readonly date: string
  readonly amount: number
  /** How many there are. */
  readonly total: number
}

/** Orders of an account's channels on which something is open at a date; `begunBefore`: only those whose first line is before a day. The heaviest first. */
export const ordersOpenAt = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { readonly date: string; readonly begunBefore?: string; readonly most: number },
): Promise<readonly OrderOpenAt[]> => {
  const channels = clearing.sources.filter(one => one.shape === 'channel')
  if (channels.length === 0) return []
  const old =
    at.begunBefore === undefined
      ? sql``
      : sql`AND min(l.local_date) < ${at.begunBefore}::date AND l.order_id IS NOT NULL`
  return rowsOf(
    tx,
    { source: is.text, order: is.maybe(is.text), line: is.text, date: is.date, amount: is.minor, total: is.whole },
    // Open at the date is what is open now, or has lines after it.
    sql`
    WITH candidate AS MATERIALIZED (
      SELECT o.source, o.order_id, o.line_id FROM open_order o
      WHERE o.client_id = current_client() AND o.source = ANY(${namesOf(channels)}::text[]) AND o.currency = ${clearing.currency}
      UNION
      SELECT l.source, coalesce(l.order_id, ''), CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ANY(${namesOf(channels)}::text[]) AND l.currency = ${clearing.currency}
        AND l.local_date > ${at.date}
    ), found AS (
      SELECT l.* FROM candidate c JOIN line_as_of l ON l.order_id = c.order_id AND l.source = c.source
        WHERE c.order_id <> '' AND l.client_id = current_client()
      UNION ALL SELECT l.* FROM candidate c JOIN line_as_of l ON l.source = c.source AND l.line_id = c.line_id
        WHERE c.line_id <> '' AND l.client_id = current_client() AND l.order_id IS NULL
    )
    SELECT l.source, l.order_id AS "order", min(l.line_id) AS line, min(l.local_date)::text AS date, sum(l.amount)::bigint AS amount,
      count(*) OVER ()::int AS total
    FROM found l
    WHERE l.currency = ${clearing.currency} AND l.local_date <= ${at.date} AND ${countsInOrders(channels)}
      ${at.begunBefore === undefined ? sql`` : sql`AND ${kindIsNot('payout')}`}
    GROUP BY l.source, l.order_id, CASE WHEN l.order_id IS NULL THEN l.line_id END HAVING sum(l.amount) <> 0 ${old}
    ORDER BY abs(sum(l.amount)) DESC, 3 LIMIT ${at.most}`,
  )
}

/** Orders looked at of those that are open for too long: whether there is any is what counts. */
const mostOldOrders = 500

/** Orders that are open for more than 14 days at a date, but for what another document books and what somebody has said may stay open. */
export const oldOrders = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { readonly date: string; readonly elsewhere: readonly RoutedLine[] },
): Promise<NamedFact[]> => {
  const { date } = at
  const orders = await ordersOpenAt(tx, clearing, {
    date,
    begunBefore: addDays(date, -openOrderLimit),
    most: mostOldOrders,
  })
  const left = new Map<string, number>()
  const keyOf = (source: string, order: string | null) => JSON.stringify([source, order])
  for (const line of at.elsewhere)
    if (line.date <= date)
      left.set(keyOf(line.source, line.orderId), (left.get(keyOf(line.source, line.orderId)) ?? 0) + line.amount)
  const here = orders.filter(one => one.amount !== (left.get(keyOf(one.source, one.order)) ?? 0))
  if (here.length === 0) return []
  const open = await rowsOf(
    tx,
    { source: is.text, order: is.text },
    sql`SELECT n.source, n."order" FROM jsonb_to_recordset(${JSON.stringify(here)}::jsonb) AS n(source text, "order" text)
      WHERE ${unanswered('order', { source: sql`n.source`, name: sql`n."order"`, date })}`,
  )
  const isOpen = new Set(open.map(one => keyOf(one.source, one.order)))
  return here.flatMap(({ source, order, date: since }) =>
    order !== null && isOpen.has(keyOf(source, order))
      ? [{ name: order, date: since, ref: { of: 'order', source, order } as const }]
      : [],
  )
}
