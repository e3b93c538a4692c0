import { addDays, type NotedRoute, routeBook, type SeenWays, type SeenWeek } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { lastDayOf } from './lastDay.ts'
import { isMatched, revisionAsOf } from './storedLines.ts'

/** Days looked back from the last line: 13 weeks. */
const daysBack = 90

/** The weeks of a source's last 13 weeks, added up; `from` and `latest` are null where it has reported nothing. */
export const loadWeeks = async (
  tx: Transaction,
  source: string,
): Promise<{ latest: string | null; from: string | null; weeks: SeenWeek[] }> => {
  const { latest } = await oneRow(
    tx,
    { latest: is.maybe(is.text) },
    sql`
    SELECT (${lastDayOf(sql`${source}`)})::text AS latest`,
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
      AND ${kindIsNot('tie', 'kind')}
    GROUP BY 1, 2, 3, 7 HAVING sum(lines) > 0
    UNION ALL
    SELECT l.kind, coalesce(l.category, ''), coalesce(l.region, ''), coalesce(l.gateway, ''), coalesce(l.method, ''), ${isMatched('now')},
      l.currency, sum(l.amount)::bigint, count(*)::int
    FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source = ${source} AND l.local_date >= date_trunc('week', ${from}::date)::date
      AND ${kindIs('tie')} AND l.status <> 'failed' AND ${revisionAsOf('now')}
    GROUP BY 1, 2, 3, 4, 5, 6, 7`,
  )
  return { latest, from, weeks: await addCurrencies(tx, weeks) }
}

/** The same weeks with what came in several currencies added up in base. */
const addCurrencies = async (
  tx: Transaction,
  weeks: readonly (SeenWeek & { readonly currency: string })[],
): Promise<SeenWeek[]> => {
  const { convert } = await loadInBase(tx)
  const added = new Map<string, SeenWeek>()
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

/** How a source's lines find their way, with and without routes. */
export const waysOf = (
  client: ClientSetup,
  routes: readonly NotedRoute[],
  at: { readonly source: string; readonly date: string },
): SeenWays => ({
  ...at,
  serve: routeBook(routes).serve,
  labels: client.setup.labels ?? new Map(),
  clearing: new Set(
    [...client.setup.sources.values()].filter(one => Object.keys(one.clearing).length > 0).map(one => one.key),
  ),
})
