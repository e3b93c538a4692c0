import { type Kind, supplyParts, type WeightedLine } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { weightedAs } from '../activity/activityLines.ts'
import { keyRows, type SettlementKey } from '../activity/settlementKey.ts'
import { isBooked, revisionAsOf } from '../activity/storedLines.ts'
import { isGoingAlong, isGoingBack, isSupplyLine, loadSupplies } from '../activity/supplies.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'

// What a line is taxed by may change when another comes: the sale that a refund belongs to, or more goods in its order.

interface Hanging {
  readonly lineId: string
  readonly key: string
  readonly currency: string
}

/**
 * Settlements with lines whose tax may hang on what a pull brought or changed: what goes back to such a line, followed on, or to its order, and what goes
 * along with the order's goods. Each order is looked at once.
 */
export const settlementsTaxedBy = async (
  tx: Transaction,
  { setup }: ClientSetup,
  pull: { readonly source: string; readonly pullNo: number },
): Promise<SettlementKey[]> => {
  if (!setup.taxRows) return []
  const along = isGoingAlong(setup)
  const mine = sql`l.client_id = current_client() AND l.source = ${pull.source}`
  const ofOrder = sql`${mine} AND (${isGoingBack} ${along ? sql`OR ${along}` : sql``}) AND ${revisionAsOf('now')}`
  // Only what goes back hangs on the line that it names. Said so, the index of lines that name one serves: else each line brought had all others gone through.
  const ofLine = sql`${mine} AND ${isGoingBack} AND l.related_id IS NOT NULL AND ${revisionAsOf('now')}`
  const found = sql`l.line_id AS "lineId", l.settlement_key AS key, l.currency`
  let reached = await rowsOf(
    tx,
    { lineId: is.text, key: is.text, currency: is.text },
    sql`
    WITH brought AS MATERIALIZED (
      SELECT l.line_id, l.kind, l.order_id FROM line_as_of l WHERE ${mine} AND ${isSupplyLine} AND l.pull_no = ${pull.pullNo}
      UNION SELECT l.line_id, l.kind, l.order_id FROM line_as_of l WHERE ${mine} AND ${isSupplyLine} AND l.to_pull = ${pull.pullNo})
    SELECT ${found} FROM (SELECT DISTINCT order_id FROM brought WHERE kind = 'sale' AND order_id IS NOT NULL) b
      JOIN line_as_of l ON l.order_id = b.order_id WHERE ${ofOrder}
    UNION SELECT ${found} FROM (SELECT DISTINCT line_id FROM brought) b JOIN line_as_of l ON l.related_id = b.line_id WHERE ${ofLine}`,
  )
  const passed = new Map<string, Hanging>()
  while (reached.length > 0) {
    for (const line of reached) passed.set(line.lineId, line)
    // What goes back to something that goes back itself hangs on the same.
    const further = await rowsOf(
      tx,
      { lineId: is.text, key: is.text, currency: is.text },
      sql`SELECT ${found} FROM line_as_of l WHERE l.related_id = ANY(${sql.param(reached.map(line => line.lineId))}::text[]) AND ${ofLine}`,
    )
    reached = further.filter(line => !passed.has(line.lineId))
  }
  const keys = new Map(
    [...passed.values()].map(({ key, currency }) => [
      JSON.stringify([key, currency]),
      { source: pull.source, key, currency },
    ]),
  )
  return [...keys.values()]
}

interface HangingLine extends SettlementKey {
  readonly lineId: string
  readonly kind: Kind
  readonly localDate: string
  readonly region: string | null
  readonly amount: number
  readonly taxAmount: number | null
  readonly taxLabel: string | null
  readonly category: string | null
  readonly sku: string | null
  readonly asOf: number
  readonly mapVersion: number
}

/** Adds to the corrections of posted settlements the lines that are the same, and taxed by other facts than when they were posted. */
export const countMovedTax = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<void> => {
  const client = await loadSetup(tx)
  if (!client.setup.taxRows || keys.length === 0) return
  const counts = new Map<string, SettlementKey & { count: number }>()
  for (const [, lines] of groupedBy(await loadHanging(tx, client, keys), line => `${line.mapVersion} ${line.asOf}`)) {
    const [{ mapVersion, asOf }] = lines as [HangingLine]
    const then = mapVersion === client.mapVersion ? client : await loadSetup(tx, mapVersion)
    if (!then.setup.taxRows) continue
    const [before, now] = [await loadSupplies(tx, then, lines, asOf), await loadSupplies(tx, then, lines, 'now')]
    for (const line of lines) {
      const factsIn = ({ book, lineOf }: typeof now): string =>
        factsOf(line, then, { book, line: lineOf(line.source, line.lineId) })
      if (factsIn(before) === factsIn(now)) continue
      const name = JSON.stringify([line.source, line.key, line.currency])
      const { source, key, currency } = line
      counts.set(name, { source, key, currency, count: (counts.get(name)?.count ?? 0) + 1 })
    }
  }
  if (counts.size === 0) return
  await tx.execute(sql`
    UPDATE settlement s SET corrections = s.corrections + m.count
    FROM jsonb_to_recordset(${JSON.stringify([...counts.values()])}::jsonb) AS m(source text, key text, currency char(3), count int)
    WHERE s.client_id = current_client() AND s.source = m.source AND s.key = m.key AND s.currency = m.currency AND s.state = 'posted'`)
}

/** What decides a line's tax, apart from the line: dates, regions and classes of its parts, and what each comes to. */
const factsOf = (
  line: HangingLine,
  { setup }: ClientSetup,
  at: { book: Awaited<ReturnType<typeof loadSupplies>>['book']; line: Parameters<typeof supplyParts>[0] },
): string => {
  const source = setup.sources.get(line.source)
  if (!source) throw new RangeError(`unknown source ${line.source}`)
  const parts = supplyParts(at.line, weightedAs(line), { book: at.book, setup, source })
  return JSON.stringify(
    parts.map(({ supply, amount, taxAmount }: WeightedLine) => [
      supply && [supply.date, supply.region, supply.class],
      amount,
      taxAmount,
    ]),
  )
}

const groupedBy = <Row>(rows: readonly Row[], nameOf: (row: Row) => string): Map<string, Row[]> => {
  const groups = new Map<string, Row[]>()
  for (const row of rows) groups.set(nameOf(row), [...(groups.get(nameOf(row)) ?? []), row])
  return groups
}

/** Lines of posted settlements that were booked, are as they were, and are taxed by what they belong to or go along with. */
const loadHanging = (
  tx: Transaction,
  { setup }: ClientSetup,
  keys: readonly SettlementKey[],
): Promise<HangingLine[]> => {
  const along = isGoingAlong(setup)
  return rowsOf(
    tx,
    {
      lineId: is.text,
      kind: is.kind,
      localDate: is.date,
      region: is.maybe(is.text),
      amount: is.minor,
      taxAmount: is.maybe(is.minor),
      taxLabel: is.maybe(is.text),
      category: is.maybe(is.text),
      sku: is.maybe(is.text),
      asOf: is.whole,
      mapVersion: is.whole,
      source: is.text,
      key: is.text,
      currency: is.text,
    },
    sql`
    SELECT l.source, l.settlement_key AS key, l.currency, l.line_id AS "lineId", l.kind, l.local_date::text AS "localDate", l.region, l.amount,
      l.tax_amount AS "taxAmount", l.tax_label AS "taxLabel", l.category, l.sku, s.as_of AS "asOf", s.map_version AS "mapVersion"
    FROM ${keyRows(keys)}
    JOIN settlement_as_of s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency AND s.client_id = current_client() AND s.stands AND NOT s.payouts_only
    JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
    WHERE l.from_pull <= s.as_of AND ${isBooked} AND (${isGoingBack} ${along ? sql`OR ${along}` : sql``})
      AND ${revisionAsOf('now')}`,
  )
}
