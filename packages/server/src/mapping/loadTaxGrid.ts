import type { TaxGridPage } from '@culvert/contract'
import {
  addDays,
  type ClassEntry,
  classBook,
  fewerRows,
  gridPeriods,
  type Item,
  type Kind,
  kinds,
  type Route,
  type RoutingValues,
  routeBook,
  rowsOfRoutes,
  supplyKinds,
  type TaxRow,
  taxBook,
  type UnlikeCell,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { revisionAsOf, routingColumns } from '../activity/storedLines.ts'
import { isGoingAlong, isGoingBack } from '../activity/supplies.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type InBase, loadInBase } from '../setup/inBase.ts'
import {
  currentVersion,
  loadClasses,
  loadItems,
  loadRoutes,
  loadTaxBy,
  loadTaxCodes,
  loadTaxRows,
} from '../setup/loadMap.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadAccounts } from './loadMapping.ts'

/** Days looked back from the client's last line: 13 weeks. */
const daysBack = 90

/** Supplies of the last 13 weeks alike in all that routes and rows look at. What goes back, or along with goods, bears what these do, and is left out. */
interface Seen extends RoutingValues {
  readonly since: string | null
  readonly currency: string
  readonly amount: number
  readonly stating: number
  readonly stated: number
  readonly lines: number
}

const loadSeen = (
  tx: Transaction,
  of: {
    readonly from: string
    readonly periods: readonly string[]
    readonly named: ReadonlySet<string>
    readonly along: SQL | null
  },
): Promise<Seen[]> => {
  const columns = (['sku', 'location', 'method', 'gateway'] as const).map(name =>
    of.named.has(name) ? sql.raw(`l."${routingColumns[name]}" AS "${name}"`) : sql.raw(`NULL::text AS "${name}"`),
  )
  return rowsOf(
    tx,
    {
      since: is.maybe(is.text),
      currency: is.text,
      amount: is.minor,
      stating: is.whole,
      stated: is.minor,
      lines: is.whole,
      source: is.text,
      kind: is.kind,
      category: is.maybe(is.text),
      sku: is.maybe(is.text),
      location: is.maybe(is.text),
      gateway: is.maybe(is.text),
      method: is.maybe(is.text),
      taxLabel: is.maybe(is.text),
      region: is.maybe(is.text),
    },
    sql`
    SELECT l.source, l.kind, l.tax_label AS "taxLabel", l.region, l.category, ${sql.join(columns, sql`, `)},
      (SELECT max(p)::text FROM unnest(${sql.param(of.periods)}::date[]) p WHERE p <= l.local_date) AS since, l.currency,
      sum(l.amount)::bigint AS amount, count(*)::int AS lines,
      coalesce(sum(l.amount) FILTER (WHERE l.tax_amount IS NOT NULL), 0)::bigint AS stating, coalesce(sum(l.tax_amount), 0)::bigint AS stated
    FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source IN (SELECT source FROM source) AND l.local_date >= ${of.from}::date
      AND l.kind = ANY(${sql.param([...supplyKinds])}::text[]) AND NOT ${isGoingBack} ${of.along ? sql`AND NOT ${of.along}` : sql``} AND l.status <> 'failed' AND ${revisionAsOf('now')}
    GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11`,
  )
}

const inBase = (seen: readonly Seen[], { convert }: InBase): Seen[] =>
  seen.map(one => ({
    ...one,
    amount: convert(one.amount, one.currency),
    stating: convert(one.stating, one.currency),
    stated: convert(one.stated, one.currency),
  }))

/** The grid of a client whose rows decide; of one whose routes still do, the rows that say the same, and what they cannot say. */
export const loadTaxGrid = async (tx: Transaction): Promise<TaxGridPage> => {
  const [byRows, routes, items] = [(await loadTaxBy(tx)) === 'rows', await loadRoutes(tx), await loadItems(tx)]
  const itemsByCode = new Map(items.map(item => [item.code, item]))
  const [storedRows, storedClasses] = [await loadTaxRows(tx), await loadClasses(tx)]
  const proposed = byRows || storedRows.length > 0 ? null : rowsOfRoutes(routes, itemsByCode)
  const rows = (proposed ? fewerRows(proposed.rows) : storedRows).map(bodyOf)
  const classes = (proposed?.classes ?? storedClasses).map(entry => ({
    sku: entry.sku ?? null,
    category: entry.category ?? null,
    class: entry.class,
  }))
  const { latest } = await oneRow(
    tx,
    { latest: is.maybe(is.text) },
    sql`SELECT max(latest)::text AS latest FROM source s CROSS JOIN LATERAL (SELECT max(local_date) AS latest
      FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source) m WHERE s.client_id = current_client()`,
  )
  const money = await loadInBase(tx)
  const named = new Set([
    ...(classes.some(entry => entry.sku) ? ['sku'] : []),
    ...(byRows
      ? []
      : routes.flatMap(route => (['sku', 'location', 'method', 'gateway'] as const).filter(name => route[name]))),
  ])
  const from = latest && addDays(latest, -daysBack)
  const seen =
    from === null
      ? []
      : inBase(
          await loadSeen(tx, {
            from,
            periods: gridPeriods(rows),
            named,
            along: byRows ? isGoingAlong((await loadSetup(tx)).setup) : null,
          }),
          money,
        )
  return {
    currency: money.base,
    version: await currentVersion(tx),
    from,
    to: latest,
    byRows,
    rows,
    classes,
    seen: seenSupplies(seen, classes),
    goods: goodsOf(seen, classes),
    ...(byRows
      ? { doubts: [], allCompared: true }
      : doubtsOf({ routes, items: itemsByCode, rows, classes, seen, latest })),
    taxCodes: (await loadTaxCodes(tx)) as TaxGridPage['taxCodes'],
    accounts: await loadAccounts(tx),
    sources: await rowsOf(
      tx,
      { source: is.text, name: is.text },
      sql`SELECT source, name FROM source WHERE client_id = current_client() ORDER BY name`,
    ),
    waiting: await loadWaiting(tx, money),
  }
}

const bodyOf = (row: TaxRow & { readonly reason?: string }): TaxGridPage['rows'][number] => ({
  id: row.id ?? null,
  source: row.source ?? null,
  kind: row.kind ?? null,
  label: row.label ?? null,
  region: row.region ?? null,
  class: row.class ?? null,
  from: row.from ?? null,
  code: row.code,
  reason: row.reason ?? '',
})

/** Adds rows up that are alike under a name. */
const addedUp = <Row extends { amount: number; lines: number }>(
  rows: readonly (Row & { readonly name: string })[],
  add: (sum: Row, row: Row) => Row,
): Row[] => {
  const sums = new Map<string, Row>()
  for (const { name, ...row } of rows) {
    const before = sums.get(name)
    sums.set(name, before ? add(before, row as unknown as Row) : (row as unknown as Row))
  }
  return [...sums.values()].sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
}

const seenSupplies = (seen: readonly Seen[], classes: readonly ClassEntry[]): TaxGridPage['seen'] => {
  const book = classBook(classes)
  return addedUp(
    seen.map(one => {
      const { source, kind, taxLabel: label, region, since, amount, stating, stated, lines } = one
      const named = { source, kind, label, region, class: book.classOf(one), since }
      return { ...named, amount, stating, stated, lines, name: JSON.stringify(named) }
    }),
    (sum, row) => ({
      ...sum,
      amount: sum.amount + row.amount,
      stating: sum.stating + row.stating,
      stated: sum.stated + row.stated,
      lines: sum.lines + row.lines,
    }),
  )
}

const mostGoods = 500

const goodsOf = (seen: readonly Seen[], classes: readonly ClassEntry[]): TaxGridPage['goods'] => {
  const book = classBook(classes)
  const skus = new Set(classes.flatMap(entry => entry.sku ?? []))
  return addedUp(
    seen
      .filter(one => one.category !== null || (one.sku !== null && skus.has(one.sku)))
      .map(one => {
        const sku = one.sku !== null && skus.has(one.sku) ? one.sku : null
        const goods = { category: one.category, sku, class: book.classOf(one) }
        return { ...goods, amount: one.amount, lines: one.lines, name: JSON.stringify(goods) }
      }),
    (sum, row) => ({ ...sum, amount: sum.amount + row.amount, lines: sum.lines + row.lines }),
  ).slice(0, mostGoods)
}

/** What would bear another code by rows than by its route today, and what hangs on something that rows do not ask for; heaviest first. */
const doubtsOf = (of: {
  readonly routes: readonly Route[]
  readonly items: ReadonlyMap<string, Item>
  readonly rows: readonly TaxRow[]
  readonly classes: readonly ClassEntry[]
  readonly seen: readonly Seen[]
  readonly latest: string | null
}): Pick<TaxGridPage, 'doubts' | 'allCompared'> => {
  const { kept, unlike, searched } = rowsOfRoutes(of.routes, of.items)
  const by = new Map(kept.map(one => [one.route, one.by]))
  const [serve, book, names] = [routeBook(of.routes).serve, taxBook(of.rows), classBook(of.classes)]
  const known = new Map(of.routes.map(route => [route.id, route]))
  const text = (id: number): string => routeText(known.get(id))
  const bySource = new Set(of.routes.flatMap(route => (route.source ? [route.kind] : [])))
  const fromData = of.seen.flatMap(one => {
    const localDate = one.since ?? '0001-01-01'
    const route = serve({ ...one, localDate: of.latest ?? localDate })
    if (!route || route.elsewhere || route.block) return []
    const today = route.taxCode ?? of.items.get(route.item ?? '')?.taxCode ?? null
    const place = {
      source: one.source,
      kind: route.charge && (one.kind === 'tax' || one.kind === 'tax_refund') ? ('surcharge' as Kind) : one.kind,
      label: one.taxLabel,
      region: one.region,
      class: names.classOf(one),
    }
    const row = book.serve({ ...place, date: of.latest ?? localDate })
    if (row && row.code === today) return []
    const doubt = {
      route: route.id,
      routeText: text(route.id),
      by: by.get(route.id) ?? null,
      // Where no route of its kind names a source, what is kept is kept for all.
      place: { ...place, source: bySource.has(one.kind) ? one.source : null, category: one.category, from: one.since },
      today,
      byRows: row?.code ?? null,
      unserved: row === null,
    }
    return [{ ...doubt, amount: one.amount, lines: one.lines, name: JSON.stringify(doubt) }]
  })
  const doubts = addedUp(fromData, (sum, row) => ({
    ...sum,
    amount: sum.amount + row.amount,
    lines: sum.lines + row.lines,
  }))
  const told = new Set(doubts.map(doubt => doubt.route))
  // A draft may have been saved in which it was decided.
  const isSaid = (cell: UnlikeCell): boolean => {
    const { kind, label, region, class: name } = cell
    const row = book.serve({
      source: cell.source ?? '',
      kind,
      label,
      region,
      class: name,
      date: cell.from ?? '0001-01-01',
    })
    return row !== null && row.code === cell.today
  }
  // What no line of these weeks shows is said all the same, without money.
  const unseen = [
    ...unlike
      .filter(cell => !told.has(cell.route) && !isSaid(cell))
      .map(cell => ({
        ...{ route: cell.route, routeText: text(cell.route), by: null, today: cell.today, amount: 0, lines: 0 },
        place: {
          source: cell.source,
          kind: cell.kind,
          label: cell.label,
          region: cell.region,
          class: cell.class,
          category: cell.category,
          from: cell.from,
        },
        byRows: cell.byRows ?? null,
        unserved: cell.byRows === undefined,
      })),
    ...kept
      .filter(one => !told.has(one.route))
      .map(one => {
        const route = known.get(one.route) as Route
        return {
          ...{
            route: one.route,
            routeText: text(one.route),
            by: one.by,
            amount: 0,
            lines: 0,
            byRows: null,
            unserved: true,
          },
          place: {
            source: route.source ?? null,
            kind: route.kind,
            label: route.taxLabel ?? null,
            region: route.region ?? null,
            class: '',
            category: route.category ?? null,
            from: route.from,
          },
          today: route.taxCode ?? of.items.get(route.item ?? '')?.taxCode ?? null,
        }
      }),
  ]
  return { doubts: [...doubts, ...unseen], allCompared: searched }
}

const routeText = (route: Route | undefined): string =>
  route === undefined
    ? ''
    : [
        kinds[route.kind].label,
        route.sku,
        route.category,
        route.location,
        route.method,
        route.gateway,
        route.taxLabel,
        route.region && `to ${route.region}`,
        route.item && `item ${route.item}`,
      ]
        .filter(Boolean)
        .join(' · ')

const loadWaiting = async (tx: Transaction, { convert }: InBase): Promise<TaxGridPage['waiting']> => {
  const rows = await rowsOf(
    tx,
    { currency: is.text, settlements: is.whole, amount: is.minor },
    sql`SELECT currency, count(*)::int AS settlements, coalesce(sum(abs(gross)), 0)::bigint AS amount FROM settlement
    WHERE client_id = current_client() AND state = 'blocked' AND blocks @> '[{"reason": "tax_code_missing"}]' GROUP BY 1`,
  )
  return {
    settlements: rows.reduce((sum, row) => sum + row.settlements, 0),
    amount: rows.reduce((sum, row) => sum + convert(row.amount, row.currency), 0),
  }
}
