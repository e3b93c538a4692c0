import {
  addDays,
  type GatewayLabels,
  gatewayOf,
  isPayout,
  isTender,
  type Kind,
  type Route,
  type RoutingValues,
  routeBook,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { isMatched, revisionAsOf } from './storedLines.ts'

/** What a source reported of one kind, category and region (empty: none) in the weeks looked at; amounts in base. */
export interface WeekRow {
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

/** Days looked back from the last line: 13 weeks. */
const daysBack = 90

/** The weeks of a source's last 13 weeks, added up; `from` and `latest` are null where it has reported nothing. */
export const loadWeeks = async (
  tx: Transaction,
  source: string,
): Promise<{ latest: string | null; from: string | null; weeks: WeekRow[] }> => {
  const { latest } = await oneRow(
    tx,
    { latest: is.maybe(is.text) },
    sql`
    SELECT max(local_date)::text AS latest FROM activity_line WHERE client_id = current_client() AND source = ${source}`,
  )
  if (latest === null) return { latest, from: null, weeks: [] }
  const from = addDays(latest, -daysBack)
  const weeks = await rowsOf(
    tx,
    {
      kind: is.kind,
      category: is.text,
      region: is.text,
      gateway: is.text,
      method: is.text,
      matched: is.yes,
      amount: is.minor,
      lines: is.whole,
      currency: is.text,
    },
    sql`
    SELECT kind, category, region, '' AS gateway, '' AS method, false AS matched, currency, sum(amount)::bigint AS amount, sum(lines)::int AS lines
    FROM activity_week
    WHERE client_id = current_client() AND source = ${source} AND week >= date_trunc('week', ${from}::date)::date
      AND kind <> ALL(${sql.param(paid)}::text[])
    GROUP BY 1, 2, 3, 7 HAVING sum(lines) > 0
    UNION ALL
    SELECT l.kind, coalesce(l.category, ''), coalesce(l.region, ''), coalesce(l.gateway, ''), coalesce(l.method, ''), ${isMatched('now')},
      l.currency, sum(l.amount)::bigint, count(*)::int
    FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source = ${source} AND l.local_date >= date_trunc('week', ${from}::date)::date
      AND l.kind = ANY(${sql.param(paid)}::text[]) AND l.status <> 'failed' AND ${revisionAsOf('now')}
    GROUP BY 1, 2, 3, 4, 5, 6, 7`,
  )
  return { latest, from, weeks: await addCurrencies(tx, weeks) }
}

/** Kinds of which the means of payment, or the other side, decides where they go: the weeks do not tell them apart. */
const paid = ['tender', 'tender_returned', 'collected', 'collected_back']

/** The same weeks with what came in several currencies added up in base. */
const addCurrencies = async (
  tx: Transaction,
  weeks: readonly (WeekRow & { readonly currency: string })[],
): Promise<WeekRow[]> => {
  const { convert } = await loadInBase(tx)
  const added = new Map<string, WeekRow>()
  for (const { currency, ...week } of weeks) {
    const key = JSON.stringify([week.kind, week.category, week.region, week.gateway, week.method, week.matched])
    const before = added.get(key)
    added.set(key, {
      ...week,
      amount: (before?.amount ?? 0) + convert(week.amount, currency),
      lines: (before?.lines ?? 0) + week.lines,
    })
  }
  return [...added.values()]
}

/** What needs no route, and who stands behind it: a source's key. */
export interface ByItself {
  readonly to: 'gateway' | 'tender'
  readonly source: string
}

/** A row of the mapping page: lines of a kind that one route serves, or none does. Amounts in minor units. */
export interface Seen {
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

type SavedRoute = Route & { readonly reason: string }

/** How lines find their way without a route, or with one. */
export interface Ways {
  readonly source: string
  readonly date: string
  readonly serve: (line: RoutedAt) => Route | null
  readonly labels: GatewayLabels
  /** Sources with a clearing account. */
  readonly clearing: ReadonlySet<string>
}

const byItselfOf = (week: WeekRow, ways: Ways): ByItself | null => {
  if (week.matched) return { to: 'tender', source: ways.source }
  if (!isTender(week.kind)) return null
  const gateway = gatewayOf({ gateway: week.gateway || null }, ways.labels)
  return gateway !== null && gateway !== ways.source && ways.clearing.has(gateway)
    ? { to: 'gateway', source: gateway }
    : null
}

/** What a week's sum is routed by, and the row it is shown in: of a kind, and of what its route names, or of what it could be routed by. */
export const placeOfWeek = (week: WeekRow, ways: Ways) => {
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
      }) as SavedRoute | null)
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
export const foldSeen = (weeks: readonly WeekRow[], ways: Ways): Seen[] => {
  const rows = new Map<string, Seen>()
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
export const isUnmapped = (row: Pick<Seen, 'route' | 'byItself' | 'kind'>): boolean =>
  row.route === null && row.byItself === null && !isPayout(row.kind)

/** How a source's lines find their way, with and without routes. */
export const waysOf = (
  client: ClientSetup,
  routes: readonly SavedRoute[],
  at: { readonly source: string; readonly date: string },
): Ways => ({
  ...at,
  serve: routeBook(routes).serve,
  labels: client.setup.labels ?? new Map(),
  clearing: new Set(
    [...client.setup.sources.values()].filter(one => Object.keys(one.clearing).length > 0).map(one => one.key),
  ),
})
