import {
  type ConditionName,
  conditionNames,
  type DatedAmount,
  kindTraits,
  type NamedAmount,
  type ProofSettlement,
  type Resolution,
  type Route,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { stored } from '../setup/stored.ts'
import { lineColumns, resolveStored, storedLineShape } from './activityLines.ts'
import { type ClearingAccount, namesOf } from './clearingAccounts.ts'
import { settlementState } from './settlementKey.ts'
import { isBooked, movesClearing, revisionAsOf, routingColumns } from './storedLines.ts'

/** A line that its route sends past the account, or to it, with the settlement that it is in. */
export interface RoutedLine extends DatedAmount {
  readonly source: string
  readonly lineId: string
  readonly orderId: string | null
  readonly kind: string
  readonly key: string
  readonly state: ProofSettlement['state']
  /** Date of its settlement's last entry, and the last of all its dates once it is posted. */
  readonly entryDate: string | null
  readonly settledBy: string | null
  /** Whether its settlement's posting, or a correction of it, saw it; true where nothing is posted yet. */
  readonly held: boolean
}

/** A line as a document of a proof: by its order, where it has one. */
export const documentOf = (line: { source: string; lineId: string; orderId: string | null }) =>
  ({
    name: line.orderId ?? line.lineId,
    ref:
      line.orderId === null
        ? { of: 'line', source: line.source, lineId: line.lineId }
        : { of: 'order', source: line.source, order: line.orderId },
  }) satisfies Pick<NamedAmount, 'name' | 'ref'>

// Wider than the routes themselves: a region of a country, and what narrower routes take away, are left to the resolver.
const mayServe = (route: Route): SQL => {
  const conditions = (conditionNames as readonly ConditionName[])
    .filter(name => name !== 'region' && name !== 'source' && route[name])
    .map(name => sql`l.${sql.identifier(routingColumns[name])} = ${route[name]}`)
  return sql.join([sql`l.kind = ${route.kind}`, ...conditions], sql` AND `)
}

/**
 * Lines of the given sources, current and booked, that any version of the map might send where `isWanted` says: each is resolved by the map that
 * its settlement was posted with, or by today's.
 */
const loadRouted = async (
  tx: Transaction,
  wanted: {
    /** Condition on alias `l` that narrows the lines. */
    readonly lines: SQL
    readonly currency: string
    readonly routes: readonly Route[]
    /** Any rule that may decide it: then every line of these kinds is looked at. */
    readonly kinds: readonly string[]
    readonly isWanted: (resolution: Resolution) => boolean
  },
): Promise<RoutedLine[]> => {
  const may = [
    ...[...new Map(wanted.routes.map(route => [JSON.stringify({ ...route, id: 0 }), route])).values()].map(
      route => sql`(${mayServe(route)})`,
    ),
    ...(wanted.kinds.length > 0 ? [sql`l.kind = ANY(${sql.param([...wanted.kinds])}::text[])`] : []),
  ]
  if (may.length === 0) return []
  const lines = await rowsOf(
    tx,
    {
      ...storedLineShape,
      key: is.text,
      state: settlementState,
      held: is.yes,
      entryDate: is.maybe(is.date),
      settledBy: is.maybe(is.text),
      map: is.maybe(is.whole),
    },
    sql`
    SELECT ${lineColumns('now')}, l.kind, s.key, s.state, s.settled_by::text AS "settledBy", s.entry_date::text AS "entryDate", p.map_version AS map,
      coalesce(l.from_pull <= p.as_of, true) AS held
    FROM line_as_of l JOIN settlement s ON s.client_id = l.client_id AND s.source = l.source AND s.key = l.settlement_key
      AND s.currency = l.currency
    LEFT JOIN settlement_as_of p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key AND p.currency = s.currency AND p.stands
    WHERE l.client_id = current_client() AND s.state <> 'elsewhere' AND NOT s.payouts_only AND ${wanted.lines} AND l.currency = ${wanted.currency}
      AND ${isBooked} AND ${revisionAsOf('now')} AND ${movesClearing} AND (${sql.join(may, sql` OR `)})`,
  )
  const setups = new Map<number | null, ClientSetup>()
  const found: RoutedLine[] = []
  for (const line of lines) {
    const setup = setups.get(line.map) ?? (await loadSetup(tx, line.map))
    setups.set(line.map, setup)
    // Where a line goes does not hang on its tax.
    const [whole] = resolveStored(line, setup, null)
    if (line.matched || !whole || !wanted.isWanted(whole.resolution)) continue
    found.push({
      source: line.source,
      lineId: line.lineId,
      orderId: line.orderId,
      kind: line.kind,
      date: line.localDate,
      amount: line.amount,
      key: line.key,
      state: line.state,
      entryDate: line.entryDate,
      settledBy: line.settledBy,
      held: line.held,
    })
  }
  return found
}

/** Lines of an account's sources that another document books: the processor holds them, the books have them from elsewhere. */
export const loadElsewhere = async (tx: Transaction, clearing: ClearingAccount): Promise<RoutedLine[]> => {
  const versions = await rowsOf(
    tx,
    { routes: is.list(stored.route) },
    sql`
    SELECT (SELECT jsonb_agg(r) FROM jsonb_array_elements(routes) r WHERE (r->>'elsewhere')::boolean) AS routes
    FROM map_version WHERE client_id = current_client() AND any_elsewhere`,
  )
  const names = new Set(clearing.sources.map(one => one.source))
  const routes = versions.flatMap(row => row.routes).filter(route => !route.source || names.has(route.source))
  return loadRouted(tx, {
    lines: sql`l.source = ANY(${namesOf(clearing.sources)}::text[])`,
    currency: clearing.currency,
    routes,
    kinds: [],
    isWanted: resolution => resolution.ok && resolution.elsewhere,
  })
}

/** Tenders of other sources that a route or a rule, not their means of payment, sends to an account. */
export const loadRoutedTenders = async (tx: Transaction, clearing: ClearingAccount): Promise<RoutedLine[]> => {
  const versions = await rowsOf(
    tx,
    { routes: is.maybe(is.list(stored.route)), rules: is.list(stored.rule) },
    sql`
    SELECT (SELECT jsonb_agg(r) FROM jsonb_array_elements(routes) r
      WHERE r->>'account' = ${clearing.account} AND ${kindIs('tender', "r->>'kind'")}) AS routes, rules
    FROM map_version WHERE client_id = current_client()
      AND (routes @> ${JSON.stringify([{ account: clearing.account }])}::jsonb OR rules::text LIKE '%"account"%')`,
  )
  const byRule = versions.some(row =>
    row.rules.some(rule => rule.actions.some(one => one.set === 'account' && one.account === clearing.account)),
  )
  return loadRouted(tx, {
    lines: sql`l.source <> ALL(${namesOf(clearing.sources)}::text[])`,
    currency: clearing.currency,
    routes: versions.flatMap(row => row.routes ?? []),
    kinds: byRule ? kindTraits.tender : [],
    isWanted: resolution =>
      resolution.ok &&
      !resolution.elsewhere &&
      resolution.account === clearing.account &&
      (resolution.route !== null || resolution.rules.length > 0),
  })
}
