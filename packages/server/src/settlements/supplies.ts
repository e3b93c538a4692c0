import {
  type ClassBook,
  type DatedLine,
  kindsGoingAlong,
  kindsGoingBack,
  type Setup,
  type SupplyBook,
  supplyBook,
  supplyKinds,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import type { ClientSetup } from './loadSetup.ts'
import { keyRows, type SettlementKey } from './settlementKey.ts'
import { type AsOf, revisionAsOf } from './storedLines.ts'

// What stored supplies are taxed by. The rule itself is core's: here stands which lines it has to see, as of now or of a pull.

const listed = (kinds: ReadonlySet<string>): SQL => sql.raw([...kinds].map(kind => `'${kind}'`).join(', '))

/** Condition that a line of alias `l` is a supply, whose code tax rows decide. */
export const isSupplyLine: SQL = sql`l.kind IN (${listed(supplyKinds)})`

/** Condition that a line of alias `l` takes date and region from the supply that it goes back to. */
export const isGoingBack: SQL = sql`(l.kind IN (${listed(kindsGoingBack)}) AND (l.kind <> 'discount' OR l.order_id IS NOT NULL))`

/** Condition that a line of alias `l` is taxed as the goods of its order are; null where no source of the client says so. */
export const isGoingAlong = ({ sources }: Setup): SQL | null => {
  const following = [...sources.values()].filter(source => source.options.ancillaryFollows).map(source => source.key)
  if (following.length === 0) return null
  return sql`(l.kind IN (${listed(kindsGoingAlong)}) AND l.order_id IS NOT NULL AND l.sku IS NULL AND l.category IS NULL
    AND l.source = ANY(${sql.param(following)}::text[]))`
}

/** The class of a line of an alias, as `ClassBook` finds it. */
const classOf = ({ entries }: ClassBook, alias: string): SQL => {
  const named = (by: 'sku' | 'category') =>
    JSON.stringify(
      Object.fromEntries(
        entries.flatMap(entry => (entry[by] && (by === 'sku' || !entry.sku) ? [[entry[by], entry.class]] : [])),
      ),
    )
  const column = (name: string) => sql.raw(`${alias}.${name}`)
  return sql`coalesce(${named('sku')}::jsonb ->> ${column('sku')}, ${named('category')}::jsonb ->> ${column('category')}, '')`
}

/** How the lines of a settlement are told apart for their tax. */
export interface SupplyGrouping {
  /** Whether a line goes along with its order's goods, all of one class. */
  readonly along: SQL
  /** That class; null where the order has no goods. */
  readonly basket: SQL
  /** Its id where a line is to be looked at by itself. */
  readonly alone: SQL
}

const nameOfOrder = (alias: string): SQL =>
  sql.raw(`${alias}.source || chr(31) || ${alias}.currency || chr(31) || ${alias}.order_id`)
const [oneClass, severalClasses] = ['1', '2']

/**
 * Lines that decide their own tax are added up as all others are, and so are those that go along with goods of one class; what goes back, and what
 * goes along with goods of several classes, stands alone.
 */
export const supplyGrouping = async (
  tx: Transaction,
  { setup }: ClientSetup,
  of: { readonly keys: readonly SettlementKey[]; readonly asOf: AsOf },
): Promise<SupplyGrouping | null> => {
  if (!setup.taxRows) return null
  const along = isGoingAlong(setup)
  const alone = sql`CASE WHEN ${isGoingBack} THEN l.line_id END`
  if (along === null) return { along: sql`false`, basket: sql`NULL::text`, alone }
  // Without classes all goods are of the empty one, but an order may have none.
  const baskets = sql`${JSON.stringify(await basketsOf(tx, setup, { ...of, along }))}::jsonb ->> (${nameOfOrder('l')})`
  return {
    along,
    basket: sql`CASE WHEN ${along} AND left(${baskets}, 1) = ${oneClass} THEN substr(${baskets}, 2) END`,
    alone: sql`CASE WHEN ${isGoingBack} OR (${along} AND ${baskets} = ${severalClasses}) THEN l.line_id END`,
  }
}

/**
 * Whether the goods of the orders that lines go along with are of one class (then which) or of several; an order without is left out. Each order is
 * added up once, however many lines go along with it.
 */
const basketsOf = async (
  tx: Transaction,
  setup: Setup,
  { keys, asOf, along }: { readonly keys: readonly SettlementKey[]; readonly asOf: AsOf; readonly along: SQL },
): Promise<Record<string, string>> => {
  const rows = await rowsOfPrepared<{ name: string; said: string }>(
    tx,
    sql`
    SELECT name, CASE WHEN count(*) FILTER (WHERE amount > 0) = 1 THEN ${oneClass} || min(class) FILTER (WHERE amount > 0) ELSE ${severalClasses} END AS said
    FROM (SELECT ${nameOfOrder('o')} AS name, ${classOf(setup.classes ?? { entries: [], classOf: () => '' }, 's')} AS class, sum(s.amount) AS amount
      FROM (SELECT DISTINCT l.source, l.currency, l.order_id FROM ${keyRows(keys)} JOIN activity_line l ON l.client_id = current_client()
          AND l.source = k.source AND l.settlement_key = k.key AND l.currency = k.currency WHERE ${along}) o
      JOIN activity_line s ON s.client_id = current_client() AND s.order_id = o.order_id AND s.source = o.source AND s.currency = o.currency
      WHERE s.kind = 'sale' AND s.status = 'available' AND ${revisionAsOf(asOf, 's')}
      GROUP BY 1, 2) c
    GROUP BY name HAVING sum(amount) > 0`,
  )
  return Object.fromEntries(rows.map(row => [row.name, row.said]))
}

/** Lines to be looked at by themselves, with all that is known of what they belong to. */
export interface Supplies {
  readonly book: SupplyBook
  /** @throws RangeError if it was not asked for */
  lineOf(source: string, lineId: string): DatedLine
}

interface SupplyRow extends Omit<DatedLine, 'instant'> {
  readonly micros: number
  readonly known: boolean
}

const nameOf = (source: string, lineId: string): string => JSON.stringify([source, lineId])

/** Loads lines and whatever they may belong to: lines that they name, followed on, and the sales of their orders; `also` names more to begin from. */
export const loadSupplies = async (
  tx: Transaction,
  { setup }: ClientSetup,
  wanted: readonly { readonly source: string; readonly lineId: string }[],
  asOf: AsOf,
  also: { readonly source: string; readonly lineId: string | null; readonly orderId: string | null } | null = null,
): Promise<Supplies> => {
  const found = new Map<string, DatedLine & { readonly known: boolean }>()
  for (const source of new Set([...wanted, ...(also ? [also] : [])].map(one => one.source))) {
    const passed = { ids: new Set<string>(), orders: new Set<string>() }
    let ids = wanted.filter(one => one.source === source).map(one => one.lineId)
    let orders: readonly string[] = also?.source === source && also.orderId ? [also.orderId] : []
    if (also?.source === source && also.lineId) ids.push(also.lineId)
    while (ids.length > 0 || orders.length > 0) {
      for (const id of ids) passed.ids.add(id)
      for (const order of orders) passed.orders.add(order)
      const fresh = await supplyRows(tx, { source, ids, orders, asOf })
      for (const { micros, ...row } of fresh)
        found.set(nameOf(source, row.lineId), { ...row, instant: Math.floor(micros / 1000) })
      const open = fresh.filter(row => row.kind !== 'sale')
      ids = unpassed(open, row => row.relatedId, passed.ids)
      orders = unpassed(open, row => row.orderId, passed.orders)
    }
  }
  return {
    book: supplyBook(
      [...found.values()].filter(line => line.known),
      setup.classes ?? { entries: [], classOf: () => '' },
    ),
    lineOf: (source, lineId) => {
      const line = found.get(nameOf(source, lineId))
      if (!line) throw new RangeError(`${lineId} of ${source} was not loaded`)
      return line
    },
  }
}

const unpassed = (
  rows: readonly SupplyRow[],
  nameOfRow: (row: SupplyRow) => string | null,
  passed: ReadonlySet<string>,
): string[] => [...new Set(rows.flatMap(row => nameOfRow(row) ?? []))].filter(name => !passed.has(name))

/** Pending and failed lines are looked for only where they are themselves asked about: nothing belongs to them. */
const supplyRows = (
  tx: Transaction,
  of: { source: string; ids: readonly string[]; orders: readonly string[]; asOf: AsOf },
): Promise<SupplyRow[]> => {
  const columns = sql`l.source, l.line_id AS "lineId", l.kind, l.order_id AS "orderId", l.related_id AS "relatedId", l.sku, l.category, l.region,
    l.currency, l.amount, l.local_date::text AS "localDate", (extract(epoch FROM l.occurred_at) * 1000000)::bigint AS micros,
    l.status = 'available' AS known`
  const mine = sql`l.client_id = current_client() AND l.source = ${of.source} AND ${revisionAsOf(of.asOf)}`
  return rowsOfPrepared<SupplyRow>(
    tx,
    sql`SELECT ${columns} FROM activity_line l WHERE ${mine} AND l.line_id = ANY(${sql.param(of.ids)}::text[]) AND ${isSupplyLine}
      UNION SELECT ${columns} FROM activity_line l WHERE ${mine} AND l.order_id = ANY(${sql.param(of.orders)}::text[])
        AND l.kind = 'sale' AND l.status = 'available'`,
  )
}
