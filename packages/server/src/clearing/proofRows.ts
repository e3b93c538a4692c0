import {
  type DocumentRef,
  findDoubles,
  type HeadSeries,
  type NamedAmount,
  type ProofInput,
  type ProofMovement,
  type ProofSettlement,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { type ClearingAccount, namesOf, type SourceOnAccount } from '../activity/clearingAccounts.ts'
import { settlementName, settlementState } from '../activity/settlementKey.ts'
import { isBooked, isMatched, movesClearing, revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
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

export interface SettlementRow {
  readonly source: string
  readonly key: string
  readonly state: ProofSettlement['state']
  readonly movements: readonly ProofMovement[] | null
  readonly payouts:
    | readonly { lineId: string; date: string; amount: number; transferDate: string | null; arrivedOn: string | null }[]
    | null
}

/** The sources of an account whose payouts leave their balance only once they have arrived. */
export const lateSources = ({ sources }: ClearingAccount): readonly SourceOnAccount[] =>
  sources.filter(one => one.payoutsLeaveBalance === 'arrived')

/**
 * Rows `slot(as_of, sign, booked_on)` of settlement `s`: what its posting holds, as of its pull, and what each correction changed: its lines
 * as of that pull less those of the one before, on the correction's date. Null dates: the date is the line's own entry's.
 */
const slots = sql`
  LATERAL (
    SELECT 2147483647 AS as_of, 1 AS sign, NULL::date AS booked_on WHERE s.state <> 'posted'
    UNION ALL
    SELECT p.pull_no, 1, NULL FROM posting p WHERE s.state = 'posted' AND p.client_id = s.client_id AND p.source = s.source AND p.key = s.key
      AND p.currency = s.currency AND p.generation = s.generation
    UNION ALL
    SELECT CASE sides.sign WHEN 1 THEN c.pull_no ELSE c.before END, sides.sign, c.date
    FROM (
      SELECT c.pull_no, (SELECT min(e.date) FROM entry e WHERE e.client_id = c.client_id AND e.act_id = c.act_id
          AND e.document = 'correction' AND e.source = c.source AND e.key = c.key AND e.currency = c.currency) AS date,
        coalesce(lag(c.pull_no) OVER (ORDER BY c.pull_no), (SELECT p.pull_no FROM posting p WHERE p.client_id = c.client_id
          AND p.source = c.source AND p.key = c.key AND p.currency = c.currency AND p.generation = c.generation)) AS before
      FROM correction c WHERE s.state = 'posted' AND c.client_id = s.client_id AND c.source = s.source AND c.key = s.key AND c.currency = s.currency
        AND c.generation = s.generation) c
    CROSS JOIN (VALUES (1), (-1)) sides(sign)
  ) slot`

/** Date of the last of a posted settlement's journals; where it has none, of what it was composed to. */
const journalEnd = sql`(SELECT coalesce((SELECT max(e.date) FROM entry e WHERE e.client_id = s.client_id AND e.source = s.source
  AND e.key = s.key AND e.currency = s.currency AND e.generation = s.generation AND e.document = 'journal'), s.entry_date) AS last)`

/** Date of the entry that holds line `l` of settlement `s`: with a split at month's end, that of its month. */
const bookedOn = (split: readonly SourceOnAccount[] | null): SQL => {
  const splits =
    split === null
      ? sql`EXISTS (SELECT FROM source f WHERE f.client_id = s.client_id AND f.source = s.source AND f.options->>'splitAtMonthEnd' = 'true')`
      : sql`s.source = ANY(${namesOf(split.filter(one => one.splitAtMonthEnd))}::text[])`
  return sql`CASE WHEN s.state <> 'posted' THEN NULL WHEN slot.booked_on IS NOT NULL THEN slot.booked_on
    WHEN ${splits} AND date_trunc('month', l.local_date) < date_trunc('month', journal.last)
    THEN (date_trunc('month', l.local_date) + interval '1 month - 1 day')::date ELSE journal.last END`
}

/** Condition that line `l` stood as of a slot. */
const stood = revisionAsOf(sql`slot.as_of`)

// A settlement that is posted and past in all its dates explains nothing any more; one that is not posted and past in all
// its dates is its balance. Only of what stands across the date are the lines looked at.
export const openSettlements = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf(
    tx,
    {
      source: is.text,
      key: is.text,
      state: settlementState,
      movements: is.maybe(is.list(is.record({ bookedOn: is.maybe(is.text), date: is.date, amount: is.minor }))),
      payouts: is.maybe(
        is.list(
          is.record({
            lineId: is.text,
            date: is.date,
            amount: is.minor,
            transferDate: is.maybe(is.date),
            arrivedOn: is.maybe(is.text),
          }),
        ),
      ),
    },
    sql`
    SELECT s.source, s.key, s.state, moved.movements, paid.payouts
    FROM settlement s
    CROSS JOIN LATERAL ${journalEnd} journal
    CROSS JOIN LATERAL (
      SELECT json_agg(json_build_object('date', d.local_date, 'amount', d.amount, 'bookedOn', d.booked_on)) AS movements FROM (
        SELECT l.local_date, ${bookedOn(clearing.sources)} AS booked_on,
          coalesce(sum(slot.sign * l.amount) FILTER (WHERE ${movesClearing} AND NOT ${isMatched(sql`slot.as_of`)}), 0)::bigint AS amount
        FROM ${slots} CROSS JOIN line_as_of l
        WHERE l.client_id = current_client() AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
          AND l.kind NOT IN ('payout', 'payout_returned') AND ${isBooked} AND ${stood}
        GROUP BY 1, 2) d
    ) moved
    CROSS JOIN LATERAL (
      SELECT json_agg(json_build_object('lineId', l.line_id, 'date', l.local_date, 'amount', l.amount, 'transferDate', t.date,
        'arrivedOn', t.arrived_on)) AS payouts
      FROM ${slots} CROSS JOIN line_as_of l
      LEFT JOIN LATERAL (
        SELECT t.date, ${arrivedOn} AS arrived_on
        FROM transfer t WHERE s.state = 'posted' AND t.client_id = current_client() AND t.source = s.source AND t.payout_line = l.line_id
          AND t.generation = s.generation AND NOT t.reversed
      ) t ON true
      WHERE slot.booked_on IS NULL AND l.client_id = current_client() AND l.source = s.source AND l.settlement_key = s.key
        AND l.currency = s.currency AND l.kind IN ('payout', 'payout_returned') AND ${isBooked} AND ${stood}
    ) paid
    WHERE s.client_id = current_client() AND s.source = ANY(${namesOf(clearing.sources)}::text[]) AND s.currency = ${clearing.currency}
      AND (s.state <> 'posted' AND s.last_date > ${date}::date OR s.state = 'posted' AND (s.settled_by > ${date}::date
        OR s.source = ANY(${namesOf(lateSources(clearing))}::text[]) AND EXISTS (SELECT FROM transfer t WHERE t.client_id = s.client_id
          AND t.source = s.source AND t.key = s.key AND t.currency = s.currency AND NOT t.reversed
          AND coalesce(${arrivedOn} > ${date}::date, true))))
      AND (s.first_date <= ${date}::date OR s.entry_date <= ${date}::date)
    ORDER BY s.entry_date, s.key`,
  )

/** Date of the last bank line that transfer `t` was confirmed to have arrived with. */
const arrivedOn = sql`(SELECT max(b.date) FROM paired_transfer pt JOIN paired_bank_line pb USING (client_id, pairing_id)
  JOIN bank_line b ON b.client_id = pb.client_id AND b.bank_account = pb.bank_account AND b.line_id = pb.line_id
  WHERE t.paired AND pt.client_id = t.client_id AND pt.source = t.source AND pt.payout_line = t.payout_line
    AND pt.generation = t.generation AND pt.active)`

// With `brief`, added up by state: the course needs the sum only, however many wait.
export const wholeSettlements = (tx: Transaction, clearing: ClearingAccount, at: { date: string; brief: boolean }) => {
  const own = sql`client_id = current_client() AND source = ANY(${namesOf(clearing.sources)}::text[]) AND currency = ${clearing.currency}
    AND state IN ('blocked', 'proposed', 'set_aside') AND last_date <= ${at.date}::date`
  return rowsOf(
    tx,
    {
      source: is.text,
      key: is.text,
      state: settlementState,
      date: is.date,
      amount: is.minor,
    },
    at.brief
      ? sql`SELECT source, '' AS key, state, ${at.date}::text AS date, sum(balance)::bigint AS amount FROM settlement WHERE ${own} GROUP BY source, state`
      : sql`SELECT source, key, state, last_date::text AS date, balance AS amount FROM settlement WHERE ${own} ORDER BY entry_date, key`,
  )
}

/** Settlement heads of each source of an account, and what the account opened with for it. */
export const loadSeries = async (tx: Transaction, clearing: ClearingAccount, date: string): Promise<HeadSeries[]> => {
  const heads = await rowsOf(
    tx,
    {
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
    },
    sql`
    SELECT source, key AS "settlementId", period_start::text AS "periodStart", period_end::text AS "periodEnd", currency,
      opening_balance AS "openingBalance", closing_balance AS "closingBalance", payout_date::text AS "payoutDate",
      payout_reference AS "payoutReference", url
    FROM settlement WHERE client_id = current_client() AND source = ANY(${namesOf(clearing.sources)}::text[])
      AND currency = ${clearing.currency} AND has_head AND period_start <= ${date}`,
  )
  const opened = await rowsOf(
    tx,
    { source: is.maybe(is.text), amount: is.minor },
    sql`
    SELECT e.source, sum(l.amount)::bigint AS amount
    FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
    WHERE e.client_id = current_client() AND ${isDocument('opens')} AND l.account = ${clearing.account}
      AND l.currency = ${clearing.currency} AND e.date <= ${date} GROUP BY 1`,
  )
  // An opening entry that names no source is that of the account's first.
  return clearing.sources.map(({ source }, place) => ({
    source,
    heads: heads.filter(head => head.source === source),
    opened: opened
      .filter(row => row.source === source || (row.source === null && place === 0))
      .reduce((sum, row) => sum + row.amount, 0),
  }))
}

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
            AND NOT (l.kind IN ('payout', 'payout_returned') AND l.source = ANY(${namesOf(lateSources(clearing))}::text[]))`
          : sql`l.kind IN ('reserve_kept', 'reserve_released') AND ${isBooked}`
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
 * What revisions, new lines and matches since the posting come to: what its lines are now less what they were then. `side` says which lines
 * of alias `l` move the account, and in which direction.
 */
export const loadCorrections = async (
  tx: Transaction,
  clearing: ClearingAccount,
  side: Side,
): Promise<CorrectedLine[]> => {
  const rows = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, source: is.text, key: is.text, lineId: is.text },
    sql`
    SELECT s.source, s.key, l.line_id AS "lineId", l.local_date::text AS date,
      (${side.sign}::int * sum(CASE WHEN l.stands AND NOT m.now THEN l.amount ELSE 0 END
        - CASE WHEN ${revisionAsOf(sql`s.as_of`)} AND NOT m."then" THEN l.amount ELSE 0 END))::bigint
        AS amount
    FROM settlement_as_of s JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
      AND ${isBooked} AND ${movesClearing} AND ${side.lines}
    CROSS JOIN LATERAL (SELECT ${isMatched('now')} AS now, ${isMatched(sql`s.as_of`)} AS "then") m
    WHERE s.client_id = current_client() AND s.stands AND s.currency = ${clearing.currency} AND s.corrections > 0
      AND (l.from_pull > s.as_of OR l.to_pull > s.as_of OR m.now <> m."then") AND coalesce(l.to_pull > s.as_of, true)
    GROUP BY 1, 2, 3, 4`,
  )
  return rows.map(row => ({ ...row, ...settlementRef(row) }))
}

const entryName = sql`e.fiscal_year || '-' || lpad(e.number::text, 4, '0')`

/** Entries on an account that no source made, with the entry of a source that each repeats; those taken back by the date left out. */
export const loadByHand = async (
  tx: Transaction,
  on: { account: string; currency: string },
  date: string,
  documents: SQL = sql`true`,
): Promise<ProofInput['byHand']> => {
  const rows = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, name: is.text, fiscalYear: is.whole, number: is.whole },
    sql`
    SELECT ${entryName} || CASE WHEN e.memo = '' THEN '' ELSE ', ' || e.memo END AS name, e.fiscal_year AS "fiscalYear", e.number,
      l.date::text AS date, l.amount
    FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
    WHERE e.client_id = current_client() AND e.source IS NULL AND NOT ${isDocument('opens')} AND l.account = ${on.account}
      AND l.currency = ${on.currency} AND e.date <= ${date} AND l.amount <> 0 AND ${documents} AND e.reverses_number IS NULL
      AND NOT EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year
        AND r.reverses_number = e.number AND r.date <= ${date})
    ORDER BY e.date, e.fiscal_year, e.number`,
  )
  if (rows.length === 0) return []
  const made = await rowsOf(
    tx,
    { name: is.text, date: is.date, amount: is.minor },
    sql`
    SELECT ${entryName} AS name, l.date::text AS date, l.amount
    FROM entry_line l JOIN entry e ON e.client_id = l.client_id AND e.fiscal_year = l.fiscal_year AND e.number = l.number
    WHERE l.client_id = current_client() AND l.account = ${on.account} AND l.currency = ${on.currency}
      AND l.amount = ANY(${sql.param(rows.map(row => row.amount))}::bigint[]) AND l.date = ANY(${sql.param(rows.map(row => row.date))}::date[])
      AND e.source IS NOT NULL AND e.document = 'journal' ORDER BY e.fiscal_year, e.number`,
  )
  const doubles = findDoubles(rows, made)
  return rows.map(({ fiscalYear, number, ...row }, index) => ({
    ...row,
    ref: { of: 'entry', fiscalYear, number },
    repeats: doubles[index]?.name ?? null,
  }))
}

/** Entries of sources on an account that stand at a date and were taken back after it, by their mirrors. */
export const loadTakenBack = async (
  tx: Transaction,
  on: { account: string; currency: string },
  date: string,
): Promise<NonNullable<ProofInput['takenBack']>> => {
  const rows = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, source: is.text, key: is.text, postedOn: is.text, payout: is.yes },
    sql`
    SELECT e.source, e.key, r.date::text AS date, l.amount, e.date::text AS "postedOn", ${isDocument('movesPayout')} AS payout
    FROM entry r JOIN entry e ON e.client_id = r.client_id AND e.fiscal_year = r.reverses_year AND e.number = r.reverses_number
    JOIN entry_line l ON l.client_id = r.client_id AND l.fiscal_year = r.fiscal_year AND l.number = r.number
    WHERE r.client_id = current_client() AND r.date > ${date} AND e.date <= ${date} AND e.source IS NOT NULL
      AND l.account = ${on.account} AND l.currency = ${on.currency}`,
  )
  return rows.map(row => ({ ...row, ...settlementRef(row) }))
}

/** Collections that tenders have booked, and stock, in settlements that are not posted: counted in their balance, and booked nowhere. */
export const loadUnbooked = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf(
    tx,
    {
      source: is.text,
      key: is.text,
      state: settlementState,
      date: is.date,
      amount: is.minor,
    },
    sql`
    SELECT s.source, s.key, s.state, l.local_date::text AS date, sum(l.amount)::bigint AS amount
    FROM settlement s JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
      AND l.currency = s.currency AND ${isBooked} AND ${revisionAsOf('now')} AND (NOT ${movesClearing} OR ${isMatched('now')})
    WHERE s.client_id = current_client() AND s.source = ANY(${namesOf(clearing.sources)}::text[]) AND s.currency = ${clearing.currency}
      AND s.state <> 'posted' AND s.last_date <= ${date} GROUP BY 1, 2, 3, 4`,
  )

/** Payouts of settlements that are not posted and past in all their dates, of sources whose balance keeps them until they arrive. */
export const loadUnpostedPayouts = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf(
    tx,
    {
      source: is.text,
      key: is.text,
      state: settlementState,
      date: is.date,
      amount: is.minor,
      lineId: is.text,
    },
    sql`
    SELECT s.source, s.key, s.state, l.line_id AS "lineId", l.local_date::text AS date, l.amount
    FROM settlement s JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
      AND l.currency = s.currency AND l.kind IN ('payout', 'payout_returned') AND ${isBooked} AND ${revisionAsOf('now')}
    WHERE s.client_id = current_client() AND s.source = ANY(${namesOf(lateSources(clearing))}::text[]) AND s.currency = ${clearing.currency}
      AND s.state <> 'posted' AND s.last_date <= ${date}`,
  )

/** What a settlement's lines move a clearing account by, dated as they happened and as they are booked; for settlement `s` and lines `l`. */
export const slotParts = { slots, journalEnd, bookedOn, stood }
