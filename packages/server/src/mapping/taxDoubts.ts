import type { TaxDoubt, TaxGridPage } from '@culvert/contract'
import {
  type ClassEntry,
  classBook,
  type Item,
  type Kind,
  kinds,
  type Route,
  routeBook,
  rowsOfRoutes,
  type TaxRow,
  taxBook,
  type UnlikeCell,
} from '@culvert/core'
import type { Seen } from './seenSupplies.ts'
import { addedUp } from './seenSupplies.ts'

interface DoubtsOf {
  readonly routes: readonly Route[]
  readonly items: ReadonlyMap<string, Item>
  readonly rows: readonly TaxRow[]
  readonly classes: readonly ClassEntry[]
  readonly latest: string | null
}

/** What tells doubts apart. */
export type Doubt = Omit<TaxDoubt, 'routeText' | 'amount' | 'lines'>

/** What of the supplies seen would bear another code by rows than by its route today; null: it bears the same, or none. */
export const doubtAt = (of: DoubtsOf): ((one: Seen) => Doubt | null) => {
  const { kept } = rowsOfRoutes(of.routes, of.items)
  const by = new Map(kept.map(one => [one.route, one.by]))
  const [serve, book, names] = [routeBook(of.routes).serve, taxBook(of.rows), classBook(of.classes)]
  const bySource = new Set(of.routes.flatMap(route => (route.source ? [route.kind] : [])))
  return one => {
    const localDate = one.since ?? '0001-01-01'
    const route = serve({ ...one, localDate: of.latest ?? localDate })
    if (!route || route.elsewhere || route.block) return null
    const today = route.taxCode ?? of.items.get(route.item ?? '')?.taxCode ?? null
    const place = {
      source: one.source,
      kind: route.charge && (one.kind === 'tax' || one.kind === 'tax_refund') ? ('surcharge' as Kind) : one.kind,
      label: one.taxLabel,
      region: one.region,
      class: names.classOf(one),
    }
    const row = book.serve({ ...place, date: of.latest ?? localDate })
    if (row && row.code === today) return null
    return {
      route: route.id,
      by: by.get(route.id) ?? null,
      // Where no route of its kind names a source, what is kept is kept for all.
      place: { ...place, source: bySource.has(one.kind) ? one.source : null, category: one.category, from: one.since },
      today,
      byRows: row?.code ?? null,
      unserved: row === null,
    }
  }
}

/** What would bear another code by rows than by its route today, and what hangs on something that rows do not ask for; heaviest first. */
export const doubtsOf = (
  of: DoubtsOf & { readonly seen: readonly Seen[] },
): Pick<TaxGridPage, 'doubts' | 'allCompared'> => {
  const { kept, unlike, searched } = rowsOfRoutes(of.routes, of.items)
  const book = taxBook(of.rows)
  const known = new Map(of.routes.map(route => [route.id, route]))
  const text = (id: number): string => routeText(known.get(id))
  const doubtOf = doubtAt(of)
  const fromData = of.seen.flatMap(one => {
    const doubt = doubtOf(one)
    return doubt
      ? [
          {
            ...{ ...doubt, routeText: text(doubt.route), amount: one.amount, lines: one.lines },
            name: JSON.stringify(doubt),
          },
        ]
      : []
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
