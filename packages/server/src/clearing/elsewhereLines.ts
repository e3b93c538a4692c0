import { type ConditionName, conditionNames, type DatedAmount, type ProofSettlement, type Route } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { lineColumns, resolveStored, type StoredLine } from '../settlements/activityLines.ts'
import { type ClientSetup, loadSetup } from '../settlements/loadSetup.ts'
import { isBooked, revisionAsOf, routingColumns } from '../settlements/storedLines.ts'
import type { ClearingAccount } from './clearingAccounts.ts'
import { movesClearing } from './proofRows.ts'

export interface ElsewhereLine extends DatedAmount {
  /** The order, or the line. */
  readonly name: string
  readonly kind: string
  readonly source: string
  readonly lineId: string
  readonly key: string
  readonly state: ProofSettlement['state']
  /** Last of its settlement's dates, once it is posted. */
  readonly settledBy: string | null
}

// Wider than the routes themselves: a region of a country, and what narrower routes take away, are left to the resolver.
const mayServe = (route: Route): SQL => {
  const conditions = (conditionNames as readonly ConditionName[])
    .filter(name => name !== 'region' && name !== 'source' && route[name])
    .map(name => sql`l.${sql.identifier(routingColumns[name])} = ${route[name]}`)
  return sql.join([sql`l.kind = ${route.kind}`, ...conditions], sql` AND `)
}

/**
 * Lines of a source up to a date that their routes send elsewhere: the processor holds them, the books have them from another document.
 * Each by the map that its settlement was posted with, or by today's.
 */
export const loadElsewhere = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string,
): Promise<ElsewhereLine[]> => {
  const versions = await rowsOf<{ version: number; routes: Route[] }>(
    tx,
    sql`
    SELECT version, (SELECT jsonb_agg(r) FROM jsonb_array_elements(routes) r WHERE (r->>'elsewhere')::boolean) AS routes
    FROM map_version WHERE client_id = current_client() AND any_elsewhere`,
  )
  if (versions.length === 0) return []
  const routes = versions.flatMap(row => row.routes).filter(route => !route.source || route.source === clearing.source)
  if (routes.length === 0) return []
  const may = [...new Map(routes.map(route => [JSON.stringify({ ...route, id: 0 }), route])).values()].map(
    route => sql`(${mayServe(route)})`,
  )
  const lines = await rowsOf<
    StoredLine & {
      key: string
      order: string | null
      state: ProofSettlement['state']
      settledBy: string | null
      map: number | null
    }
  >(
    tx,
    sql`
    SELECT ${lineColumns('now')}, s.key, s.state, s.settled_by::text AS "settledBy", p.map_version AS map
    FROM activity_line l JOIN settlement s ON s.client_id = l.client_id AND s.source = l.source AND s.key = l.settlement_key
      AND s.currency = l.currency
    LEFT JOIN posting p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key AND p.currency = s.currency
      AND p.generation = s.generation AND s.state = 'posted'
    WHERE l.client_id = current_client() AND l.source = ${clearing.source} AND l.currency = ${clearing.currency}
      AND l.local_date <= ${date} AND ${isBooked} AND ${revisionAsOf('now')} AND ${movesClearing} AND (${sql.join(may, sql` OR `)})`,
  )
  const setups = new Map<number | null, ClientSetup>()
  const found: ElsewhereLine[] = []
  for (const line of lines) {
    const setup = setups.get(line.map) ?? (await loadSetup(tx, line.map))
    setups.set(line.map, setup)
    const { resolution } = resolveStored(line, setup)
    if (!resolution.ok || !resolution.elsewhere || line.matched) continue
    found.push({
      name: line.orderId ?? line.lineId,
      kind: line.kind,
      date: line.localDate,
      amount: line.amount,
      source: line.source,
      lineId: line.lineId,
      key: line.key,
      state: line.state,
      settledBy: line.settledBy,
    })
  }
  return found
}
