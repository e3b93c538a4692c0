import type { RoutingValues } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { isSupply, isTaxKind } from '../activity/kindTraits.ts'
import type { Item } from '../mapping/item.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import type { Route } from '../mapping/route.ts'
import { type ClassEntry, classBook } from './productClass.ts'
import { type TaxedAs, type TaxRow, taxBook } from './taxRow.ts'

/** Why rows cannot say what a route says of a supply's tax. */
export type KeptRoute = {
  readonly route: number
  /** What its code hangs on, beside what rows ask for; or it names a SKU and a category at once. */
  readonly by: 'location' | 'method' | 'gateway' | 'item' | 'sku_and_category'
}

/** A cell in which the route that serves today and the row that would serve name unlike codes. */
export interface UnlikeCell {
  readonly kind: Kind
  readonly source: string | null
  readonly label: string | null
  readonly region: string | null
  readonly class: string
  /** Category of the goods, where the SKU's class hides it. */
  readonly category: string | null
  /** Local date from which it is so; null: always. */
  readonly from: string | null
  /** The code that the route gives today, and the row's; null: none on purpose, undefined: no row serves. */
  readonly today: string | null
  readonly byRows: string | null | undefined
  readonly route: number
}

export interface RowsOfRoutes {
  readonly rows: readonly TaxRow[]
  readonly classes: readonly ClassEntry[]
  readonly kept: readonly KeptRoute[]
  /** Where a category's or a SKU's route goes before a region's or a label's, and rows would not: for a person to decide. */
  readonly unlike: readonly UnlikeCell[]
  /** False where a map tells so much apart that its cells were not gone through: `unlike` is empty then, and says nothing. */
  readonly searched: boolean
}

/** What an item brings is its own; of all else what the route says. */
const hangsOn = (route: Route, items: ReadonlyMap<string, Item>): KeptRoute['by'] | null => {
  for (const name of ['location', 'method', 'gateway'] as const) if (route[name]) return name
  if (route.item && route.taxCode === null && items.get(route.item)?.taxCode) return 'item'
  return route.sku && route.category ? 'sku_and_category' : null
}

/** What rows see a route's lines as: what it calls a charge is none of tax. */
const rowKind = (route: Route): Kind => (route.charge && isTaxKind(route.kind) ? 'surcharge' : route.kind)

const saysTax = (route: Route): boolean => isSupply(route.kind) && !route.elsewhere && !route.block

/**
 * Tax rows and classes that say what the routes of supplies say of their tax today: a row for each route, a class for each category and SKU that a
 * route names. What rows cannot say is listed, and so is each cell in which the two orders of narrowness disagree.
 */
export const rowsOfRoutes = (routes: readonly Route[], items: ReadonlyMap<string, Item> = new Map()): RowsOfRoutes => {
  const speaking = routes.filter(saysTax)
  const kept = speaking.flatMap((route): KeptRoute[] => {
    const by = hangsOn(route, items)
    return by ? [{ route: route.id, by }] : []
  })
  const left = new Set(kept.map(one => one.route))
  const told = speaking.filter(route => !left.has(route.id))
  const classes = classesOf(told)
  const names = classBook(classes)
  const rows = told.map(
    (route): TaxRow => ({
      source: route.source || null,
      kind: rowKind(route),
      label: route.taxLabel || null,
      region: route.region || null,
      class: names.classOf({ sku: route.sku || null, category: route.category || null }) || null,
      from: route.from,
      code: route.taxCode,
    }),
  )
  const unlike = unlikeCells({ routes, told, left, rows, classes })
  return { rows, classes, kept, unlike: unlike ?? [], searched: unlike !== null }
}

/** A class for each category and each SKU that a route names, called like it; a SKU that is called like a category says so. */
const classesOf = (routes: readonly Route[]): ClassEntry[] => {
  const categories = [...new Set(routes.flatMap(route => route.category || []))].sort()
  const skus = [...new Set(routes.flatMap(route => route.sku || []))].sort()
  return [
    ...categories.map(category => ({ category, class: category })),
    ...skus.map(sku => ({ sku, class: categories.includes(sku) ? `${sku} (SKU)` : sku })),
  ]
}

/** Looks at a route or row that are worth it: about a second. */
const mostLooks = 20_000_000

/** A line of each sort that routes tell apart, on each day from which one of them serves; null where these are too many. */
const unlikeCells = (of: {
  readonly routes: readonly Route[]
  readonly told: readonly Route[]
  readonly left: ReadonlySet<number>
  readonly rows: readonly TaxRow[]
  readonly classes: readonly ClassEntry[]
}): UnlikeCell[] | null => {
  const { routes, told, left } = of
  const [serve, byRows, names] = [routeBook(routes).serve, taxBook(of.rows), classBook(of.classes)]
  // Rows of other kinds serve none of these lines.
  const valuesOf = (kind: Kind, name: 'source' | 'taxLabel' | 'region') => [
    null,
    ...new Set(told.flatMap(route => (route.kind === kind || rowKind(route) === kind ? route[name] || [] : []))),
  ]
  const products = [
    { sku: null, category: null },
    ...of.classes.map(entry => ({ sku: entry.sku ?? null, category: entry.category ?? null })),
    // A SKU with a class of its own may stand in a category with another: the category's route serves it, and its row does not.
    ...of.classes.flatMap(({ sku }) =>
      sku ? of.classes.flatMap(({ category }) => (category ? [{ sku, category }] : [])) : [],
    ),
  ]
  const days = ['0001-01-01', ...new Set(told.flatMap(route => route.from ?? []))].sort()
  const sorts = [...new Set(told.map(route => route.kind))].reduce(
    (sum, kind) =>
      sum +
      (['source', 'taxLabel', 'region'] as const).reduce((product, name) => product * valuesOf(kind, name).length, 1),
    0,
  )
  if (sorts * products.length * days.length * (routes.length + of.rows.length) > mostLooks) return null
  const found = new Map<string, UnlikeCell>()
  for (const kind of new Set(told.map(route => route.kind)))
    for (const source of valuesOf(kind, 'source'))
      for (const label of valuesOf(kind, 'taxLabel'))
        for (const region of valuesOf(kind, 'region'))
          for (const product of products)
            for (const day of days) {
              // A source of no name meets no condition, as one does that no route names.
              const line: RoutingValues & { localDate: string } = {
                kind,
                source: source ?? '',
                taxLabel: label,
                region,
                ...product,
                location: null,
                gateway: null,
                method: null,
                localDate: day,
              }
              const route = serve(line)
              if (!route || !saysTax(route) || left.has(route.id)) continue
              const at: TaxedAs = {
                source: source ?? '',
                kind: rowKind(route),
                label,
                region,
                class: names.classOf(product),
                date: day,
              }
              const row = byRows.serve(at)
              if (row && row.code === route.taxCode) continue
              const category = product.sku && product.category
              const cell = {
                kind,
                source,
                label,
                region,
                class: at.class,
                category,
                from: day === days[0] ? null : day,
              }
              const unlike = { ...cell, today: route.taxCode, byRows: row?.code, route: route.id }
              const key = JSON.stringify([{ ...cell, from: null }, unlike.today, unlike.byRows])
              if (!found.has(key)) found.set(key, unlike)
            }
  return [...found.values()]
}
