import { addDays, type Kind, type Route, type RoutingValues, routeBook } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { loadInBase } from '../books/inBase.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'

/** What a source reported of one kind, category and region (empty: none) in the weeks looked at; amounts in base. */
export interface WeekRow {
  readonly kind: Kind
  readonly category: string
  readonly region: string
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
  const { latest } = await oneRow<{ latest: string | null }>(
    tx,
    sql`
    SELECT max(local_date)::text AS latest FROM activity_line WHERE client_id = current_client() AND source = ${source}`,
  )
  if (latest === null) return { latest, from: null, weeks: [] }
  const from = addDays(latest, -daysBack)
  const weeks = await rowsOf<WeekRow & { readonly currency: string }>(
    tx,
    sql`
    SELECT kind, category, region, currency, sum(amount)::bigint AS amount, sum(lines)::int AS lines FROM activity_week
    WHERE client_id = current_client() AND source = ${source} AND week >= date_trunc('week', ${from}::date)::date
    GROUP BY 1, 2, 3, 4 HAVING sum(lines) > 0`,
  )
  return { latest, from, weeks: await addCurrencies(tx, weeks) }
}

/** The same weeks with what came in several currencies added up in base. */
const addCurrencies = async (
  tx: Transaction,
  weeks: readonly (WeekRow & { readonly currency: string })[],
): Promise<WeekRow[]> => {
  const { convert } = await loadInBase(tx)
  const added = new Map<string, WeekRow>()
  for (const { currency, ...week } of weeks) {
    const key = JSON.stringify([week.kind, week.category, week.region])
    const before = added.get(key)
    added.set(key, {
      ...week,
      amount: (before?.amount ?? 0) + convert(week.amount, currency),
      lines: (before?.lines ?? 0) + week.lines,
    })
  }
  return [...added.values()]
}

/** A row of the mapping page: lines of a kind that one route serves, or none does. Amounts in minor units. */
export interface Seen {
  readonly kind: Kind
  readonly category: string | null
  readonly region: string | null
  amount: number
  lines: number
  readonly route: (Route & { reason: string }) | null
  readonly narrow: boolean
}

type SavedRoute = Route & { readonly reason: string }

/** What a week's sum is routed by, and the row it is shown in: of a kind, and of a category or region that has a route of its own, or none. */
export const placeOfWeek = (
  week: WeekRow,
  serve: (line: RoutedAt) => Route | null,
  at: { source: string; date: string },
) => {
  const route = serve({
    source: at.source,
    kind: week.kind,
    category: week.category || null,
    region: week.region || null,
    sku: null,
    location: null,
    gateway: null,
    method: null,
    taxLabel: null,
    localDate: at.date,
  }) as SavedRoute | null
  return {
    kind: week.kind,
    category: route === null ? week.category || null : (route.category ?? null),
    region: route?.region ?? null,
    route,
  }
}
type RoutedAt = RoutingValues & { localDate: string }

/** Folds a source's weeks into the rows of the mapping page, unmapped first, then the heaviest kinds. */
export const foldSeen = (
  weeks: readonly WeekRow[],
  routes: readonly SavedRoute[],
  at: { source: string; date: string },
): Seen[] => {
  const book = routeBook(routes)
  const rows = new Map<string, Seen>()
  for (const week of weeks) {
    const place = placeOfWeek(week, book.serve, at)
    const key = JSON.stringify([place.kind, place.category, place.region])
    const row = rows.get(key) ?? {
      ...place,
      amount: 0,
      lines: 0,
      narrow: Boolean(place.route?.category || place.route?.region),
    }
    rows.set(key, row)
    row.amount += week.amount
    row.lines += week.lines
  }
  const weight = new Map<Kind, number>()
  for (const row of rows.values()) weight.set(row.kind, Math.max(weight.get(row.kind) ?? 0, Math.abs(row.amount)))
  const isOpen = (row: Seen) => row.route === null && row.kind !== 'payout' && row.kind !== 'payout_returned'
  return [...rows.values()].sort(
    (left, right) =>
      Number(isOpen(right)) - Number(isOpen(left)) ||
      (weight.get(right.kind) as number) - (weight.get(left.kind) as number) ||
      (left.kind < right.kind ? -1 : left.kind > right.kind ? 1 : 0) ||
      Number(left.narrow) - Number(right.narrow) ||
      Math.abs(right.amount) - Math.abs(left.amount),
  )
}
