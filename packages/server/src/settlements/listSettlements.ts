import { blockReasonWords, type SettlementKeyBody, type SettlementList } from '@culvert/contract'
import { type SQL, sql } from 'drizzle-orm'
import { keyShape, settlementName, settlementState } from '../activity/settlementKey.ts'
import {
  type Arrangement,
  amountColumn,
  countColumn,
  dateColumn,
  holdsText,
  isArranged,
  type ListColumn,
  localeOf,
  sortedBy,
  textColumn,
} from '../database/arrange.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isLeft } from './isLeft.ts'
import { storedBlock } from './storedBlock.ts'

export const settlementColumns = sql`s.source, s.key, s.currency, f.name AS "sourceName", s.state,
  coalesce(s.period_start, s.first_date)::text AS "from", coalesce(s.period_end, s.last_date)::text AS "to",
  s.entry_date::text AS "entryDate", s.payout_date::text AS "payoutDate", s.gross, s.fees, s.tax, s.payout, s.balance, s.lines,
  s.blocks, s.corrections, s.correction_amount AS "correctionAmount", s.set_aside_reason AS "setAsideReason"`

export const named = <Row extends { source: string; key: string }>(row: Row): Row & { name: string } => ({
  ...row,
  name: settlementName(row),
})

export interface SettlementFilter extends Arrangement {
  readonly state: string | null
  readonly source: string | null
  readonly from: string | null
  readonly to: string | null
  readonly offset: number
  readonly limit: number
}

const conditions = ({ state, source, from, to }: SettlementFilter): SQL => {
  const all = [sql`s.client_id = current_client()`, isLeft]
  if (state === 'waiting') all.push(sql`s.state IN ('blocked', 'proposed')`)
  else if (state === 'corrected') all.push(sql`s.state = 'posted' AND s.corrections > 0`)
  else if (state !== null) all.push(sql`s.state = ${state}`)
  if (source !== null) all.push(sql`s.source = ${source}`)
  if (from !== null) all.push(sql`s.entry_date >= ${from}`)
  if (to !== null) all.push(sql`s.entry_date <= ${to}`)
  return sql.join(all, sql` AND `)
}

const inWords = sql.join(
  Object.entries(blockReasonWords).map(([reason, words]) => sql`WHEN ${reason} THEN ${words}`),
  sql` `,
)
const whyText = sql`CASE WHEN s.state = 'set_aside' THEN coalesce(s.set_aside_reason, '')
  WHEN s.corrections > 0 THEN s.corrections || CASE s.corrections WHEN 1 THEN ' line' ELSE ' lines' END || ' corrected since'
  ELSE (SELECT coalesce(string_agg(CASE b.value ->> 'reason' ${inWords} ELSE b.value ->> 'reason' END, ', ' ORDER BY b.ordinality), '')
    FROM jsonb_array_elements(s.blocks) WITH ORDINALITY b) END`

/** The columns of the list of settlements, as its page names and writes them. */
const listColumns: Readonly<Record<string, ListColumn>> = {
  name: textColumn(sql`CASE WHEN s.key LIKE 'day:%' THEN s.source || substr(s.key, 4) ELSE s.key END`),
  source: textColumn(sql`f.name`),
  state: textColumn(sql`CASE s.state WHEN 'elsewhere' THEN 'booked elsewhere' ELSE replace(s.state, '_', ' ') END`),
  why: textColumn(whyText),
  dates: dateColumn(sql`coalesce(s.period_end, s.last_date)`),
  lines: countColumn(sql`s.lines`),
  gross: amountColumn(sql`s.gross`, sql`s.currency`),
  fees: amountColumn(sql`s.fees`, sql`s.currency`),
  tax: amountColumn(sql`s.tax`, sql`s.currency`),
  payout: amountColumn(sql`s.payout`, sql`s.currency`),
  paid: dateColumn(sql`s.payout_date`),
}

/** How `settlementColumns` are read. */
export const settlementShape = {
  tax: is.minor,
  currency: is.text,
  from: is.maybe(is.text),
  to: is.maybe(is.text),
  source: is.text,
  sourceName: is.text,
  key: is.text,
  lines: is.whole,
  state: settlementState,
  corrections: is.whole,
  gross: is.minor,
  fees: is.minor,
  payout: is.minor,
  entryDate: is.maybe(is.date),
  payoutDate: is.maybe(is.date),
  balance: is.minor,
  blocks: is.list(storedBlock),
  correctionAmount: is.minor,
  setAsideReason: is.maybe(is.text),
}

/** Settlements as they are arranged, else in order of their entries' dates, the latest first; with how many there are of each state. */
export const listSettlements = async (tx: Transaction, filter: SettlementFilter): Promise<SettlementList> => {
  const held = isArranged(filter) ? holdsText(listColumns, filter.filter, await localeOf(tx)) : sql`true`
  const rows = await rowsOf(
    tx,
    settlementShape,
    sql`
    SELECT ${settlementColumns} FROM settlement s JOIN source f USING (client_id, source)
    WHERE ${conditions(filter)} AND ${held} ORDER BY ${sortedBy(listColumns, filter.sort)}s.entry_date DESC NULLS FIRST, s.source, s.key DESC
    LIMIT ${filter.limit + 1} OFFSET ${filter.offset}`,
  )
  const counts = await rowsOf(
    tx,
    { state: settlementState, count: is.whole },
    sql`
    SELECT state, count(*)::int AS count FROM settlement s
    WHERE ${conditions({ ...filter, state: null })} GROUP BY 1`,
  )
  const none = { count: 0 }
  const all = { blocked: none, proposed: none, posted: none, set_aside: none, elsewhere: none }
  return {
    rows: rows.slice(0, filter.limit).map(named),
    more: rows.length > filter.limit,
    counts: { ...all, ...Object.fromEntries(counts.map(({ state, ...sums }) => [state, sums])) },
  }
}

/** The settlements before and after one in the order of its source's list, and its place among them. */
export const placeOf = async (tx: Transaction, at: SettlementKeyBody & { entryDate: string | null }) => {
  const date = at.entryDate ?? '9999-12-31'
  const beside = (later: boolean) =>
    rowsOf(
      tx,
      keyShape,
      sql`
    SELECT source, key, currency FROM settlement WHERE client_id = current_client() AND source = ${at.source}
      AND ${later ? sql`(entry_date, key) > (${date}, ${at.key})` : sql`(entry_date, key) < (${date}, ${at.key})`}
    ORDER BY ${later ? sql`entry_date, key` : sql`entry_date DESC, key DESC`} LIMIT 1`,
    )
  const [counts] = await rowsOf(
    tx,
    { count: is.whole, index: is.whole },
    sql`
    SELECT count(*)::int AS count, (count(*) FILTER (WHERE (entry_date, key) >= (${date}, ${at.key})))::int AS index
    FROM settlement WHERE client_id = current_client() AND source = ${at.source}`,
  )
  const [next] = await beside(true)
  const [previous] = await beside(false)
  return { index: counts?.index ?? 0, count: counts?.count ?? 0, previous: previous ?? null, next: next ?? null }
}
