import type { AccountRow, MappingPage, RouteBody, SeenRow } from '@culvert/contract'
import { addDays, type Kind, kindNames, proposeAccount, type Route, type RoutingValues, routeBook } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { loadSetup } from '../settlements/loadSetup.ts'
import { loadRoutes, loadTaxCodes } from './saveRoutes.ts'

interface WeekRow {
  readonly kind: Kind
  readonly category: string
  readonly region: string
  readonly amount: number
  readonly lines: number
}

export const loadAccounts = (tx: Transaction): Promise<AccountRow[]> =>
  rowsOf(
    tx,
    sql`SELECT code, name, type, currency, archived, bank_number AS "bankNumber" FROM account
    WHERE client_id = current_client() ORDER BY code`,
  )

const bodyOf = ({ id, ...route }: Route & { reason: string }): RouteBody => ({
  routeId: id,
  kind: route.kind,
  source: route.source ?? null,
  category: route.category ?? null,
  sku: route.sku ?? null,
  location: route.location ?? null,
  gateway: route.gateway ?? null,
  method: route.method ?? null,
  region: route.region ?? null,
  taxLabel: route.taxLabel ?? null,
  from: route.from,
  account: route.account,
  taxCode: route.taxCode,
  segments: route.segments,
  block: route.block,
  reason: route.reason,
})

/** Rows of the mapping page: what a source reported in the last 13 weeks, heaviest first, with the route of each. */
export const loadMapping = async (tx: Transaction, source: string): Promise<MappingPage | null> => {
  const client = await loadSetup(tx)
  const sourceName = client.sourceNames.get(source)
  if (sourceName === undefined) return null
  const { latest } = await oneRow<{ latest: string | null }>(
    tx,
    sql`
    SELECT max(local_date)::text AS latest FROM activity_line WHERE client_id = current_client() AND source = ${source}`,
  )
  const from = latest === null ? null : addDays(latest, -90)
  const weeks =
    from === null
      ? []
      : await rowsOf<WeekRow>(
          tx,
          sql`
    SELECT kind, category, region, sum(amount)::bigint AS amount, sum(lines)::int AS lines FROM activity_week
    WHERE client_id = current_client() AND source = ${source} AND week >= date_trunc('week', ${from}::date)::date
    GROUP BY 1, 2, 3 HAVING sum(lines) > 0`,
        )
  const routes = await loadRoutes(tx)
  const accounts = await loadAccounts(tx)
  const seen = foldSeen(weeks, routes, { source, date: latest ?? '9999-12-31' })
  const open = accounts
    .filter(account => !account.archived)
    .map(account => ({ code: account.code, name: account.name, type: account.type as never }))
  const samples = await loadSamples(tx, source, from)
  const rows: SeenRow[] = seen.map(row => ({
    kind: row.kind,
    category: row.category,
    region: row.region,
    amount: row.amount,
    lines: row.lines,
    narrow: row.narrow,
    unmapped: row.route === null && row.kind !== 'payout' && row.kind !== 'payout_returned',
    route: row.route && bodyOf(row.route),
    sample: samples.get(`${row.kind} ${row.category ?? ''}`) ?? samples.get(`${row.kind} `) ?? null,
    proposal: row.route ? null : proposalFor(row, open),
  }))
  const waiting = await oneRow<{ settlements: number; amount: number }>(
    tx,
    sql`
    SELECT count(*)::int AS settlements, coalesce(sum(abs(gross)), 0)::bigint AS amount FROM settlement
    WHERE client_id = current_client() AND source = ${source} AND state = 'blocked'`,
  )
  const reported = new Set(seen.map(row => row.kind))
  return {
    source,
    sourceName,
    currency: client.base,
    from,
    to: latest,
    version: client.mapVersion,
    rows,
    unseen: kindNames.filter(name => !reported.has(name)),
    accounts,
    taxCodes: (await loadTaxCodes(tx)) as MappingPage['taxCodes'],
    routes: routes.map(bodyOf),
    waiting,
  }
}

const proposalFor = (row: Seen, open: Parameters<typeof proposeAccount>[1]): SeenRow['proposal'] => {
  const proposal = proposeAccount(row, open)
  return proposal && { account: proposal.account, words: [...proposal.words] }
}

interface Seen {
  readonly kind: Kind
  readonly category: string | null
  readonly region: string | null
  amount: number
  lines: number
  readonly route: (Route & { reason: string }) | null
  readonly narrow: boolean
}

// A row per kind; categories (and regions) that have a route of their own, or none at all, get a row under it.
const foldSeen = (
  weeks: readonly WeekRow[],
  routes: readonly (Route & { reason: string })[],
  at: { source: string; date: string },
): Seen[] => {
  const book = routeBook(routes)
  const rows = new Map<string, Seen>()
  for (const week of weeks) {
    const line: RoutingValues & { localDate: string } = {
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
    }
    const route = book.serve(line) as (Route & { reason: string }) | null
    const byCategory = route === null ? line.category : (route.category ?? null)
    const byRegion = route?.region ?? null
    const key = JSON.stringify([week.kind, byCategory, byRegion])
    const row = rows.get(key) ?? {
      kind: week.kind,
      category: byCategory,
      region: byRegion,
      amount: 0,
      lines: 0,
      route,
      narrow: Boolean(route?.category || route?.region),
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

const loadSamples = async (tx: Transaction, source: string, from: string | null) => {
  const rows = await rowsOf<{ kind: string; category: string; lineId: string; description: string; amount: number }>(
    tx,
    sql`
    SELECT w.kind, w.category, l.line_id AS "lineId", coalesce(l.description, '') AS description, l.amount
    FROM (SELECT kind, category, max(week) AS week FROM activity_week WHERE client_id = current_client()
      AND source = ${source} AND week >= date_trunc('week', ${from}::date)::date AND lines > 0 GROUP BY 1, 2) w
    CROSS JOIN LATERAL (SELECT line_id, description, amount FROM activity_line l
      WHERE l.client_id = current_client() AND l.source = ${source}
        AND l.local_date BETWEEN w.week AND w.week + 6 AND l.kind = w.kind
        AND coalesce(l.category, '') = w.category LIMIT 1) l`,
  )
  const samples = new Map<string, { lineId: string; description: string; amount: number }>()
  for (const { kind, category, ...sample } of rows) {
    samples.set(`${kind} ${category}`, sample)
    if (!samples.has(`${kind} `)) samples.set(`${kind} `, sample)
  }
  return samples
}
