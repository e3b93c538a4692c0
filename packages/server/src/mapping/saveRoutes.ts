import type { RouteBody, SavedRoutes } from '@culvert/contract'
import {
  type ClearingOwner,
  checkRoutes,
  isChargeTo,
  type Route,
  type RouteContext,
  type RouteWarning,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { MapRefused } from '../access/mapRefused.ts'
import { Question, Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadItems, loadRoutes, loadTaxBy } from '../setup/loadMap.ts'

export interface RouteChange {
  readonly changed: readonly RouteBody[]
  readonly removed: readonly number[]
  readonly madeFrom?: MadeFrom
  /** Somebody was asked, and said that money is meant to go to another source's clearing account. */
  readonly meant?: boolean
}

/**
 * Changes routes, makes the whole of them the next version of the map, and composes anew what is not posted.
 * @throws MapRefused naming every fault, Conflict where somebody saved meanwhile, Refused where a route is asked about.
 */
export const saveRoutes = async (database: Database, actor: Actor, change: RouteChange): Promise<SavedRoutes> => {
  const before = await asClient(database, actor, countBlocked)
  const { version, result: warnings } = await saveMap(database, actor, {
    act: 'save_routes',
    note: `${change.changed.length} routes`,
    madeFrom: change.madeFrom,
    part: async tx => touchables('route', await loadRoutes(tx), row => row.id),
    change: tx => applyRoutes(tx, change),
  })
  const after = await asClient(database, actor, countBlocked)
  return { version, unblocked: Math.max(0, before - after), warnings }
}

/** Settlements that are blocked. */
export const countBlocked = async (tx: Transaction): Promise<number> =>
  (
    await oneRow(
      tx,
      { count: is.whole },
      sql`SELECT count(*)::int AS count FROM settlement
    WHERE client_id = current_client() AND state = 'blocked'`,
    )
  ).count

/** Writes them in the transaction of a save. @throws MapRefused naming every fault */
export const applyRoutes = async (tx: Transaction, change: RouteChange): Promise<SavedRoutes['warnings']> => {
  const context = await routeContext(tx)
  const routes = new Map((await loadRoutes(tx)).map(route => [route.id, route]))
  // Ids are given here: one that is not there any more would bring a route back, or take any number for the next.
  const gone = [...change.removed, ...change.changed.flatMap(route => route.routeId ?? [])].find(id => !routes.has(id))
  if (gone !== undefined) throw new Refused('route_gone', { route: gone })
  let next = Math.max(0, ...routes.keys()) + 1
  for (const id of change.removed) routes.delete(id)
  for (const { routeId, ...route } of change.changed) {
    const id = routeId ?? next++
    const type = route.account === null ? null : (context.accounts.get(route.account)?.type ?? null)
    routes.set(id, { ...route, id, charge: isChargeTo(route.kind, type) })
  }
  const { faults, warnings } = checkRoutes([...routes.values()], context)
  if (faults.length > 0) throw new MapRefused({ of: 'routes', faults })
  if (!change.meant) askAbout(warnings, change, routes)
  await tx.execute(sql`DELETE FROM route WHERE client_id = current_client()`)
  await tx.execute(sql`
    INSERT INTO route (client_id, route_id, kind, source, category, sku, location, gateway, method, region, tax_label, "from",
      account, item, elsewhere, charge, tax_code, segments, block, reason)
    SELECT current_client(), r.id, r.kind, r.source, r.category, r.sku, r.location, r.gateway, r.method, r.region, r."taxLabel",
      r."from", r.account, r.item, coalesce(r.elsewhere, false), coalesce(r.charge, false), r."taxCode", coalesce(r.segments, '{}'), coalesce(r.block, false), coalesce(r.reason, '')
    FROM jsonb_to_recordset(${JSON.stringify([...routes.values()])}::jsonb) AS r(id int, kind text, source text, category text,
      sku text, location text, gateway text, method text, region text, "taxLabel" text, "from" date, account text,
      item text, elsewhere boolean, charge boolean, "taxCode" text, segments jsonb, block boolean, reason text)`)
  return warnings.map(warning => ({
    route: warning.route,
    account: warning.account,
    type: warning.code === 'other_clearing' ? 'clearing' : warning.type,
  }))
}

/** What routes are checked against: what is there, and can be booked to. */
export const routeContext = async (tx: Transaction): Promise<RouteContext> => {
  const accounts = await rowsOf(
    tx,
    { code: is.text, type: is.accountType },
    sql`SELECT code, type FROM account WHERE client_id = current_client() AND NOT archived`,
  )
  const codes = await rowsOf(tx, { code: is.text }, sql`SELECT code FROM tax_code WHERE client_id = current_client()`)
  const items = await loadItems(tx)
  return {
    accounts: new Map(accounts.map(account => [account.code, account])),
    taxCodes: new Set(codes.map(code => code.code)),
    items: new Set(items.map(item => item.code)),
    clearing: await clearingOwners(tx),
    taxByRows: (await loadTaxBy(tx)) === 'rows',
  }
}

/** Clearing accounts with the sources that they are of. */
export const clearingOwners = async (tx: Transaction): Promise<ReadonlyMap<string, ClearingOwner[]>> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, shape: is.oneOf('combined', 'channel', 'gateway'), account: is.text },
    sql`SELECT c.account, c.source, s.shape FROM source_clearing c JOIN source s USING (client_id, source)
      WHERE c.client_id = current_client() ORDER BY c.account, c.source`,
  )
  const owners = new Map<string, ClearingOwner[]>()
  for (const { account, ...owner } of rows) owners.set(account, [...(owners.get(account) ?? []), owner])
  return owners
}

// Only what is saved now is asked about: what was meant before is not asked again.
const askAbout = (warnings: readonly RouteWarning[], change: RouteChange, routes: ReadonlyMap<number, Route>): void => {
  const accounts = new Set(change.changed.map(route => `${route.kind} ${route.account}`))
  const asked = warnings.flatMap(warning =>
    warning.code === 'other_clearing' && accounts.has(`${routes.get(warning.route)?.kind} ${warning.account}`)
      ? [`${warning.account} (${warning.sources.join(', ')})`]
      : [],
  )
  if (asked.length > 0) throw new Question('other_clearing', { accounts: [...new Set(asked)] })
}
