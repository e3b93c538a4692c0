import type { RouteBody, SavedRoutes } from '@culvert/contract'
import {
  type AccountType,
  checkRoutes,
  type Item,
  isChargeTo,
  type Route,
  type Rule,
  type TaxCode,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { recordAct } from '../books/recordAct.ts'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { recompose } from '../settlements/recompose.ts'
import { MapRefused } from './mapRefused.ts'

export const routeColumns = sql`route_id AS id, kind, source, category, sku, location, gateway, method, region,
  tax_label AS "taxLabel", "from"::text, account, item, elsewhere, charge, tax_code AS "taxCode", segments, block, reason`

export const loadRoutes = (tx: Transaction) =>
  rowsOf<Route & { reason: string }>(
    tx,
    sql`
  SELECT ${routeColumns} FROM route WHERE client_id = current_client() ORDER BY route_id`,
  )

/**
 * Changes routes, makes the whole of them the next version of the map, and composes anew what is not posted.
 * @throws MapRefused naming every fault.
 */
export const saveRoutes = (
  database: Database,
  actor: Actor,
  change: { readonly changed: readonly RouteBody[]; readonly removed: readonly number[] },
): Promise<SavedRoutes> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      // The client's row orders those who save the map at the same time.
      await tx.execute(sql`SELECT FROM client WHERE client_id = current_client() FOR UPDATE`)
      const before = await countBlocked(tx)
      const warnings = await applyRoutes(tx, change)
      const version = await saveMapVersion(tx, actor)
      await recordAct(tx, actor, { sort: 'save_routes', note: `${change.changed.length} routes` })
      await recompose(tx, null)
      await refreshSummary(tx, ['mapping', 'settlements', 'clearing'])
      return { version, unblocked: Math.max(0, before - (await countBlocked(tx))), warnings }
    }),
  )

const countBlocked = async (tx: Transaction): Promise<number> =>
  (
    await oneRow<{ count: number }>(
      tx,
      sql`SELECT count(*)::int AS count FROM settlement
    WHERE client_id = current_client() AND state = 'blocked'`,
    )
  ).count

const applyRoutes = async (
  tx: Transaction,
  change: { readonly changed: readonly RouteBody[]; readonly removed: readonly number[] },
): Promise<SavedRoutes['warnings']> => {
  const accounts = await rowsOf<{ code: string; type: AccountType }>(
    tx,
    sql`SELECT code, type FROM account WHERE NOT archived`,
  )
  const types = new Map(accounts.map(account => [account.code, account.type]))
  const routes = new Map((await loadRoutes(tx)).map(route => [route.id, route]))
  for (const id of change.removed) routes.delete(id)
  let next = Math.max(0, ...routes.keys(), ...change.removed) + 1
  for (const { routeId, ...route } of change.changed) {
    const id = routeId ?? next++
    const type = route.account === null ? null : (types.get(route.account) ?? null)
    routes.set(id, { ...route, id, charge: isChargeTo(route.kind, type) })
  }
  const codes = await rowsOf<{ code: string }>(tx, sql`SELECT code FROM tax_code`)
  const items = await loadItems(tx)
  const { faults, warnings } = checkRoutes([...routes.values()], {
    accounts: new Map(accounts.map(account => [account.code, account])),
    taxCodes: new Set(codes.map(code => code.code)),
    items: new Set(items.map(item => item.code)),
  })
  if (faults.length > 0) throw new MapRefused({ of: 'routes', faults })
  await tx.execute(sql`DELETE FROM route WHERE client_id = current_client()`)
  await tx.execute(sql`
    INSERT INTO route (client_id, route_id, kind, source, category, sku, location, gateway, method, region, tax_label, "from",
      account, item, elsewhere, charge, tax_code, segments, block, reason)
    SELECT current_client(), r.id, r.kind, r.source, r.category, r.sku, r.location, r.gateway, r.method, r.region, r."taxLabel",
      r."from", r.account, r.item, coalesce(r.elsewhere, false), coalesce(r.charge, false), r."taxCode", coalesce(r.segments, '{}'), coalesce(r.block, false), coalesce(r.reason, '')
    FROM jsonb_to_recordset(${JSON.stringify([...routes.values()])}::jsonb) AS r(id int, kind text, source text, category text,
      sku text, location text, gateway text, method text, region text, "taxLabel" text, "from" date, account text,
      item text, elsewhere boolean, charge boolean, "taxCode" text, segments jsonb, block boolean, reason text)`)
  return warnings.map(({ route, account, type }) => ({ route, account, type }))
}

export const loadTaxCodes = (tx: Transaction): Promise<TaxCode[]> =>
  rowsOf<TaxCode>(
    tx,
    sql`
    SELECT t.code, t.name, t.treatment, t.basis, t.use, t.reverse_charge AS "reverseCharge",
      coalesce((SELECT json_agg(json_build_object('name', c.name, 'account', c.account, 'inputAccount', c.input_account,
        'compound', c.compound, 'rates', coalesce((SELECT json_agg(json_build_object('from', r."from", 'percent', r.percent::text)
          ORDER BY r."from") FROM tax_rate r WHERE r.client_id = c.client_id AND r.code = c.code AND r.position = c.position), '[]'))
        ORDER BY c.position) FROM tax_component c WHERE c.client_id = t.client_id AND c.code = t.code), '[]') AS components
    FROM tax_code t WHERE t.client_id = current_client() ORDER BY t.code`,
  )

export const loadRules = (tx: Transaction): Promise<Rule[]> =>
  rowsOf<Rule>(
    tx,
    sql`SELECT rule_id AS id, conditions, actions FROM rule WHERE client_id = current_client() ORDER BY position`,
  )

export const loadItems = (tx: Transaction): Promise<Item[]> =>
  rowsOf<Item>(
    tx,
    sql`SELECT code, name, other_names AS "otherNames", account, tax_code AS "taxCode", costs FROM item
    WHERE client_id = current_client() ORDER BY code`,
  )

/** Keeps the routes, rules, items, tax codes and gateways' labels as they are now as the next version of the map. */
export const saveMapVersion = async (tx: Transaction, actor: Actor): Promise<number> => {
  const routes = await loadRoutes(tx)
  const taxCodes = await loadTaxCodes(tx)
  const { version } = await oneRow<{ version: number }>(
    tx,
    sql`
    INSERT INTO map_version (client_id, version, "by", routes, tax_codes, rules, items, labels)
    SELECT current_client(), coalesce(max(version), 0) + 1, ${actor.userId}, ${JSON.stringify(routes)}::jsonb,
      ${JSON.stringify(taxCodes)}::jsonb, ${JSON.stringify(await loadRules(tx))}::jsonb,
      ${JSON.stringify(await loadItems(tx))}::jsonb,
      coalesce((SELECT jsonb_object_agg(label, source) FROM gateway_label), '{}')
    FROM map_version RETURNING version`,
  )
  return version
}
