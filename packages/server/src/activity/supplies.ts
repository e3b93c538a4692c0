import { type ClassBook, type DatedLine, type Setup, type SupplyBook, supplyBook } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { type AsOf, revisionAsOf } from './storedLines.ts'

// What stored supplies are taxed by. The rule itself is core's: here stands which lines it has to see, as of now or of a pull.

/** Condition that a line of alias `l` is a supply, whose code tax rows decide. */
export const isSupplyLine: SQL = kindIs('supply')

/** Condition that a line of alias `l` takes date and region from the supply that it goes back to. */
export const isGoingBack: SQL = sql`(${kindIs('going_back')} AND (l.kind <> 'discount' OR l.order_id IS NOT NULL))`

/** Condition that a line of alias `l` is taxed as the goods of its order are; null where no source of the client says so. */
export const isGoingAlong = ({ sources }: Setup): SQL | null => {
  const following = [...sources.values()].filter(source => source.options.ancillaryFollows).map(source => source.key)
  if (following.length === 0) return null
  return sql`(${kindIs('going_along')} AND l.order_id IS NOT NULL AND l.sku IS NULL AND l.category IS NULL
    AND l.source = ANY(${sql.param(following)}::text[]))`
}

/** The same, of what does not go back to another line as well: no more than its order's goods decides its tax. Null also in a client without tax rows. */
export const isSplitAlong = (setup: Setup): SQL | null => {
  const along = setup.taxRows ? isGoingAlong(setup) : null
  return along && sql`(${along} AND ${kindIsNot('going_back')})`
}

/** The class of a line of alias `s`, as `ClassBook` finds it. */
const classOf = ({ entries }: ClassBook): SQL => {
  const named = (by: 'sku' | 'category'): SQL[] => {
    const known = entries.flatMap(entry =>
      entry[by] && (by === 'sku' || !entry.sku) ? [[entry[by], entry.class]] : [],
    )
    return known.length === 0
      ? []
      : [sql`${JSON.stringify(Object.fromEntries(known))}::jsonb ->> ${sql.raw(`s.${by}`)}`]
  }
  return sql`coalesce(${sql.join([...named('sku'), ...named('category'), sql`''::text`], sql`, `)})`
}

/** The goods that a line goes along with, as JSON: their class; or where they are of several what each comes to, in decimal; of none known an empty object. */
export type Goods = string | Readonly<Record<string, string>>

/** @throws Unread */
export const readGoods = (json: string): Goods => {
  const value: unknown = JSON.parse(json)
  return typeof value === 'string' ? value : is.dict(is.text)(value)
}

/**
 * Of the settlement of alias `k`, the orders with lines that go along with their goods, and those as `basket`; orders without any are left out. Each
 * order is added up once, however many lines go along with it.
 */
export const basketsOf = (
  { setup }: ClientSetup,
  of: { readonly along: SQL; readonly lines: SQL; readonly asOf: AsOf },
): SQL => {
  const goods = sql`s.client_id = current_client() AND s.source = k.source AND s.currency = k.currency AND s.kind = 'sale' AND s.status = 'available'
    AND ${revisionAsOf(of.asOf, 's')}`
  const named = classOf(setup.classes ?? noClasses)
  // One look for all orders, where a join would look for each; most orders are of one class, only the others are looked at again.
  return sql`
  SELECT o.order_id, CASE WHEN min(o.class) = max(o.class) THEN to_json(min(o.class)) ELSE (SELECT json_object_agg(m.class, m.amount) FROM (
      SELECT ${named} AS class, sum(s.amount)::text AS amount FROM line_as_of s WHERE ${goods} AND s.order_id = o.order_id
      GROUP BY 1 HAVING sum(s.amount) > 0) m) END::text AS basket
  FROM (SELECT s.order_id, s.amount, ${named} AS class FROM line_as_of s
    WHERE ${goods} AND s.order_id = ANY(ARRAY(SELECT l.order_id FROM line_as_of l WHERE ${of.along} AND ${of.lines}))) o
  GROUP BY 1 HAVING sum(o.amount) > 0`
}

const noClasses: ClassBook = { entries: [], classOf: () => '' }

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
      setup.classes ?? noClasses,
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
  return rowsOfPrepared(
    tx,
    {
      micros: is.whole,
      known: is.yes,
      category: is.maybe(is.text),
      sku: is.maybe(is.text),
      amount: is.minor,
      currency: is.text,
      source: is.text,
      region: is.maybe(is.text),
      kind: is.kind,
      lineId: is.text,
      localDate: is.date,
      orderId: is.maybe(is.text),
      relatedId: is.maybe(is.text),
    },
    sql`SELECT ${columns} FROM line_as_of l WHERE ${mine} AND l.line_id = ANY(${sql.param(of.ids)}::text[]) AND ${isSupplyLine}
      UNION ALL SELECT ${columns} FROM line_as_of l WHERE ${mine} AND l.order_id = ANY(${sql.param(of.orders)}::text[])
        AND l.kind = 'sale' AND l.status = 'available'`,
  )
}
