import type { RoutingValues } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { isPayout, isTender } from '../activity/kindTraits.ts'
import { type GatewayLabels, gatewayOf } from './gatewayLabels.ts'
import type { Route } from './route.ts'

/** What a source reported of one kind, category and region (empty: none) in the weeks looked at; amounts in base. */
export interface SeenWeek {
  readonly kind: Kind
  readonly category: string
  readonly region: string
  /** The means of payment, told apart where it decides; empty: none. */
  readonly gateway: string
  readonly method: string
  /** A collection that a channel's tender has booked. */
  readonly matched: boolean
  readonly amount: number
  readonly lines: number
}

/** What needs no route, and who stands behind it: a source's key. */
export interface ByItself {
  readonly to: 'gateway' | 'tender'
  readonly source: string
}

/** A row of the mapping page: lines of a kind that one route serves, or none does. Amounts in minor units. */
export interface SeenRow {
  readonly kind: Kind
  readonly category: string | null
  readonly region: string | null
  readonly gateway: string | null
  readonly method: string | null
  amount: number
  lines: number
  readonly route: (Route & { reason: string }) | null
  readonly byItself: ByItself | null
  readonly narrow: boolean
}

export type NotedRoute = Route & { readonly reason: string }

/** How lines find their way without a route, or with one. */
export interface SeenWays {
  readonly source: string
  readonly date: string
  readonly serve: (line: RoutedAt) => Route | null
  readonly labels: GatewayLabels
  /** Sources with a clearing account. */
  readonly clearing: ReadonlySet<string>
}

const byItselfOf = (week: SeenWeek, ways: SeenWays): ByItself | null => {
  if (week.matched) return { to: 'tender', source: ways.source }
  if (!isTender(week.kind)) return null
  const gateway = gatewayOf({ gateway: week.gateway || null }, ways.labels)
  return gateway !== null && gateway !== ways.source && ways.clearing.has(gateway)
    ? { to: 'gateway', source: gateway }
    : null
}

/** What a week's sum is routed by, and the row it is shown in: of a kind, and of what its route names, or of what it could be routed by. */
export const placeOfWeek = (week: SeenWeek, ways: SeenWays) => {
  const byItself = byItselfOf(week, ways)
  const route = byItself
    ? null
    : (ways.serve({
        source: ways.source,
        kind: week.kind,
        category: week.category || null,
        region: week.region || null,
        sku: null,
        location: null,
        gateway: week.gateway || null,
        method: week.method || null,
        taxLabel: null,
        localDate: ways.date,
      }) as NotedRoute | null)
  const open = route === null && byItself === null
  return {
    kind: week.kind,
    category: open ? week.category || null : (route?.category ?? null),
    region: route?.region ?? null,
    gateway: open && isTender(week.kind) ? week.gateway || null : (route?.gateway ?? null),
    method: route?.method ?? null,
    route,
    byItself,
  }
}

type RoutedAt = RoutingValues & { localDate: string }

/** Folds a source's weeks into the rows of the mapping page, unmapped first, then the heaviest kinds. */
export const foldSeen = (weeks: readonly SeenWeek[], ways: SeenWays): SeenRow[] => {
  const rows = new Map<string, SeenRow>()
  for (const week of weeks) {
    const place = placeOfWeek(week, ways)
    const key = JSON.stringify([place.kind, place.category, place.region, place.gateway, place.method, place.byItself])
    const row = rows.get(key) ?? {
      ...place,
      amount: 0,
      lines: 0,
      narrow: Boolean(
        place.route?.category || place.route?.region || place.route?.gateway || place.route?.method || place.byItself,
      ),
    }
    rows.set(key, row)
    row.amount += week.amount
    row.lines += week.lines
  }
  const weight = new Map<Kind, number>()
  for (const row of rows.values()) weight.set(row.kind, Math.max(weight.get(row.kind) ?? 0, Math.abs(row.amount)))
  const isOpen = isUnmapped
  return [...rows.values()].sort(
    (left, right) =>
      Number(isOpen(right)) - Number(isOpen(left)) ||
      (weight.get(right.kind) as number) - (weight.get(left.kind) as number) ||
      (left.kind < right.kind ? -1 : left.kind > right.kind ? 1 : 0) ||
      Number(left.narrow) - Number(right.narrow) ||
      Math.abs(right.amount) - Math.abs(left.amount),
  )
}

/** Whether money of a row has nowhere to go. */
export const isUnmapped = (row: Pick<SeenRow, 'route' | 'byItself' | 'kind'>): boolean =>
  row.route === null && row.byItself === null && !isPayout(row.kind)
