import { type ProductsPage, routeBody, type SeenProduct } from '@culvert/contract'
import { nameBook, productRoutes, routeBook } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { lastDayOf } from '../activity/lastDay.ts'
import { soldLines } from '../activity/soldLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadItems, loadRoutes } from '../setup/loadMap.ts'

interface SoldRow {
  readonly source: string
  readonly sourceName: string
  readonly latest: string
  /** Local date of its first sale among those looked at. */
  readonly first: string
  readonly sku: string
  readonly title: string
  readonly category: string | null
  readonly currency: string
  readonly amount: number
  readonly lines: number
}

const mostProducts = 500

/** Products that sources sold in the last 13 weeks, heaviest first, each with the item that its SKU or a known name finds. */
export const loadProducts = async (tx: Transaction): Promise<ProductsPage> => {
  const items = await loadItems(tx)
  const routes = await loadRoutes(tx)
  const rows = await soldRows(tx)
  const { convert } = await loadInBase(tx)
  const book = nameBook(items)
  const serve = routeBook(routes).serve
  const products = new Map<string, SeenProduct>()
  for (const row of rows) {
    const key = JSON.stringify([row.source, row.sku, row.title])
    const before = products.get(key)
    const amount = convert(row.amount, row.currency)
    if (before) {
      products.set(key, { ...before, amount: before.amount + amount, lines: before.lines + row.lines })
      continue
    }
    const { source, sourceName, sku, title, category, latest } = row
    const found = book.find({ code: sku, name: title })
    const hits = found.found === 'none' ? [] : found.found === 'one' ? [found.thing] : found.things
    const values = {
      kind: 'sale',
      source,
      sku,
      category,
      location: null,
      gateway: null,
      method: null,
      region: null,
      taxLabel: null,
    } as const
    const route = serve({ ...values, localDate: latest })
    const [item] = found.found === 'one' ? hits : []
    const wanted =
      item && sku !== '' && route?.item !== item.code
        ? productRoutes({ source, sku, category, date: latest }, item, routes)
        : null
    products.set(key, {
      source,
      sourceName,
      sku,
      title,
      category,
      amount,
      lines: row.lines,
      found: found.found,
      by: found.found === 'none' ? null : found.by,
      items: hits.map(hit => hit.code),
      ownRoutes: routes
        .filter(one => sku !== '' && one.sku === sku && (one.source ?? source) === source)
        .map(one => one.id),
      goesTo: route && { item: route.item ?? null, account: route.account },
      proposal: wanted?.map(one => routeBody.parse({ ...one, routeId: null })) ?? null,
    })
  }
  const latest = rows.reduce<string | null>(
    (last, row) => (last === null || row.latest > last ? row.latest : last),
    null,
  )
  return {
    from: rows.reduce<string | null>((first, row) => (first === null || row.first < first ? row.first : first), null),
    to: latest,
    products: [...products.values()]
      .sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
      .slice(0, mostProducts),
  }
}

// One row per product and currency; of several categories the one that most lines bear.
const soldRows = (tx: Transaction): Promise<SoldRow[]> =>
  rowsOf(
    tx,
    {
      source: is.text,
      sourceName: is.text,
      latest: is.text,
      first: is.text,
      sku: is.text,
      title: is.text,
      category: is.maybe(is.text),
      currency: is.text,
      amount: is.minor,
      lines: is.whole,
    },
    sql`
    SELECT s.source, s.name AS "sourceName", m.latest::text AS latest, p.sku, p.title, p.category, p.currency, p.amount, p.lines,
      p.first::text AS first
    FROM source s
    CROSS JOIN LATERAL (${lastDayOf(sql`s.source`)}) m
    CROSS JOIN LATERAL (
      SELECT coalesce(l.sku, '') AS sku, coalesce(l.description, '') AS title, mode() WITHIN GROUP (ORDER BY l.category) AS category, l.currency,
        sum(l.amount)::bigint AS amount, count(*)::int AS lines, min(l.local_date) AS first
      FROM ${soldLines(sql`s.source`, sql`m.latest`)}
      GROUP BY 1, 2, l.currency ORDER BY amount DESC LIMIT ${mostProducts}
    ) p
    WHERE s.client_id = current_client() ORDER BY p.amount DESC, s.source, p.sku, p.title`,
  )
