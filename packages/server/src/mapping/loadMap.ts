import type { Item, Route, Rule, TaxCode } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'

// The map as it stands now, part by part.

const routeColumns = sql`route_id AS id, kind, source, category, sku, location, gateway, method, region,
  tax_label AS "taxLabel", "from"::text, account, item, elsewhere, charge, tax_code AS "taxCode", segments, block, reason`

export const loadRoutes = (tx: Transaction) =>
  rowsOf<Route & { reason: string }>(
    tx,
    sql`
  SELECT ${routeColumns} FROM route WHERE client_id = current_client() ORDER BY route_id`,
  )

export const loadTaxCodes = (tx: Transaction): Promise<TaxCode[]> =>
  rowsOf<TaxCode>(
    tx,
    sql`
    SELECT t.code, t.name, t.treatment, t.basis, t.use, t.reverse_charge AS "reverseCharge", t.country, t.recovery,
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

/** The version of the map that stands; 0 before the first save. */
export const currentVersion = async (tx: Transaction): Promise<number> =>
  (
    await oneRow<{ version: number }>(
      tx,
      sql`SELECT coalesce(max(version), 0)::int AS version FROM map_version WHERE client_id = current_client()`,
    )
  ).version
