import type { DocumentRef, HeadSeries, NamedAmount } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { type ClearingAccount, namesOf, type SourceOnAccount } from '../activity/clearingAccounts.ts'
import { settlementName } from '../activity/settlementKey.ts'
import { isBooked, isMatched, movesClearing, revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'

/** Lines of alias `l` that move a clearing account, and in which direction. */
export interface Side {
  readonly lines: SQL
  readonly sign: 1 | -1
}

/** The settlement that a row is of, as a document of a proof. */
export const settlementRef = (row: { source: string; key: string }): { name: string; ref: DocumentRef } => ({
  name: settlementName(row),
  ref: { of: 'settlement', source: row.source, key: row.key },
})

/** The sources of an account whose payouts leave their balance only once they have arrived. */
export const lateSources = ({ sources }: ClearingAccount): readonly SourceOnAccount[] =>
  sources.filter(one => one.payoutsLeaveBalance === 'arrived')

const head = is.record({
  settlementId: is.text,
  periodStart: is.maybe(is.text),
  periodEnd: is.maybe(is.text),
  currency: is.text,
  openingBalance: is.maybe(is.minor),
  closingBalance: is.maybe(is.minor),
  payoutDate: is.maybe(is.date),
  payoutReference: is.maybe(is.text),
  url: is.maybe(is.text),
  source: is.text,
})

/** Condition that settlement `s` had ended before its source's first day in these books. */
const isBefore = sql`(s.state = 'elsewhere' OR s.payouts_only)`

/**
 * Settlement heads of each source of an account, and what the account opened with for it. An opening entry that names no source is that of the first.
 * Of those that are booked elsewhere the last is what the first here should open at; without any it is what the account opened with.
 */
export const loadSeries = (tx: Transaction, clearing: ClearingAccount, date: string): Promise<HeadSeries[]> =>
  rowsOf(
    tx,
    { source: is.text, heads: is.list(head), opened: is.maybe(is.minor) },
    sql`
    WITH own AS (SELECT source, place, (SELECT max(s.period_start) FROM settlement s WHERE s.client_id = current_client() AND s.source = o.source
        AND s.currency = ${clearing.currency} AND s.has_head AND ${isBefore} AND s.period_start <= ${date}) AS before FROM unnest(${namesOf(clearing.sources)}::text[]) WITH ORDINALITY AS o(source, place)),
    opening AS MATERIALIZED (
      SELECT e.source, sum(l.amount) AS amount
      FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
      WHERE e.client_id = current_client() AND ${isDocument('opens')} AND l.account = ${clearing.account}
        AND l.currency = ${clearing.currency} AND e.date <= ${date} GROUP BY 1)
    SELECT own.source,
      coalesce((SELECT json_agg(json_build_object('source', s.source, 'settlementId', s.key, 'periodStart', s.period_start::text,
          'periodEnd', s.period_end::text, 'currency', s.currency, 'openingBalance', s.opening_balance, 'closingBalance', s.closing_balance,
          'payoutDate', s.payout_date, 'payoutReference', s.payout_reference, 'url', s.url))
        FROM settlement s WHERE s.client_id = current_client() AND s.source = own.source AND s.currency = ${clearing.currency} AND s.has_head
          AND s.period_start <= ${date} AND (NOT ${isBefore} OR s.period_start = own.before)), '[]') AS heads,
      CASE WHEN own.before IS NULL THEN coalesce((SELECT sum(o.amount) FROM opening o WHERE o.source = own.source OR o.source IS NULL AND own.place = 1), 0)::bigint END AS opened
    FROM own ORDER BY own.place`,
  )

export const linesWhere = async (
  tx: Transaction,
  clearing: ClearingAccount,
  which: 'pending' | 'reserve',
  date: string,
): Promise<NamedAmount[]> => {
  const sources = clearing.sources.filter(
    one => one.shape !== 'channel' && (which === 'pending' || one.reservesStayOnBalance),
  )
  if (sources.length === 0) return []
  const rows = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, source: is.text },
    sql`
    SELECT l.source, l.local_date::text AS date, sum(l.amount)::bigint AS amount FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source = ANY(${namesOf(sources)}::text[]) AND l.currency = ${clearing.currency}
      AND l.local_date <= ${date} AND ${movesClearing}
      AND ${
        which === 'pending'
          ? sql`l.status <> 'available' AND l.status = 'pending' AND NOT ${isBooked}
            AND NOT (${kindIs('payout')} AND l.source = ANY(${namesOf(lateSources(clearing))}::text[]))`
          : sql`${kindIs('reserve')} AND ${isBooked}`
      }
      AND ${revisionAsOf('now')}
    GROUP BY 1, 2`,
  )
  const names = new Map(sources.map(one => [one.source, one.name]))
  return rows.map(({ source, ...row }) => ({
    ...row,
    name: names.get(source) ?? source,
    ref: { of: 'source', source },
  }))
}

export interface CorrectedLine extends NamedAmount {
  readonly source: string
  readonly lineId: string
}

/**
 * What revisions, new lines and matches since the posting come to: what its lines are now less what they were then. `sides` say which lines
 * of alias `l` move the account, and in which direction; a line may be of several. Without `byLine` no line is named: each day of a settlement is one sum.
 */
export const loadCorrections = async (
  tx: Transaction,
  clearing: ClearingAccount,
  { sides, byLine }: { readonly sides: readonly Side[]; readonly byLine: boolean },
): Promise<(CorrectedLine & { readonly side: number })[]> => {
  const moving = sides.map(({ lines, sign }, side) => sql`SELECT ${side}::int, ${sign}::int WHERE ${lines}`)
  const rows = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, source: is.text, key: is.text, lineId: is.text, side: is.whole },
    sql`
    WITH s AS MATERIALIZED (SELECT * FROM settlement_as_of WHERE client_id = current_client() AND stands AND currency = ${clearing.currency}
      AND corrections > 0)
    SELECT s.source, s.key, ${byLine ? sql`l.line_id` : sql`''`} AS "lineId", l.local_date::text AS date, o.side,
      (o.sign * sum(CASE WHEN l.stands AND NOT m.now THEN l.amount ELSE 0 END
        - CASE WHEN ${revisionAsOf(sql`s.as_of`)} AND NOT m."then" THEN l.amount ELSE 0 END))::bigint AS amount
    FROM s JOIN line_as_of l ON l.client_id = current_client() AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
      AND NOT (s.payouts_only AND ${kindIsNot('payout')}) AND ${isBooked} AND ${movesClearing} AND (${sql.join(
        sides.map(({ lines }) => lines),
        sql` OR `,
      )})
    CROSS JOIN LATERAL (${sql.join(moving, sql` UNION ALL `)}) o(side, sign)
    CROSS JOIN LATERAL (SELECT ${isMatched('now')} AS now, ${isMatched(sql`s.as_of`)} AS "then") m
    WHERE (l.from_pull > s.as_of OR l.to_pull > s.as_of OR m.now <> m."then") AND coalesce(l.to_pull > s.as_of, true)
    GROUP BY 1, 2, 3, 4, 5, o.sign`,
  )
  return rows.map(row => ({ ...row, ...settlementRef(row) }))
}

/** Rows of the files of an account's sources that could not be read and were left out, and of which nobody has said that they move nothing. */
export const loadRowsAside = async (
  tx: Transaction,
  clearing: ClearingAccount,
): Promise<{ name: string; ref: DocumentRef; date: string | null }[]> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, file: is.text, row: is.whole, date: is.maybe(is.text) },
    sql`SELECT r.source, j.message AS file, r.row, r.day::text AS date FROM row_aside r JOIN job j USING (client_id, job_id)
      WHERE r.client_id = current_client() AND r.source = ANY(${namesOf(clearing.sources)}::text[]) AND r.why = 'unread' AND j.taken_back_at IS NULL
      ORDER BY j.ordinal, r.row`,
  )
  return rows.map(({ source, file, row, date }) => ({
    name: `row ${row} of ${file}`,
    ref: { of: 'source', source },
    date,
  }))
}
