import type { ClassEntry, Item, Rule, TaxCode, TaxRow } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { classShape, itemShape, routeShape, ruleShape, taxCodeShape, taxRowShape } from './stored.ts'

// The map as it stands now, part by part.

const routeColumns = sql`route_id AS id, kind, source, category, sku, location, gateway, method, region,
  tax_label AS "taxLabel", "from"::text, account, item, elsewhere, charge, tax_code AS "taxCode", segments, block, reason`

export const loadRoutes = (tx: Transaction) =>
  rowsOf(
    tx,
    { ...routeShape, reason: is.text },
    sql`
  SELECT ${routeColumns} FROM route WHERE client_id = current_client() ORDER BY route_id`,
  )

export const loadTaxCodes = (tx: Transaction): Promise<TaxCode[]> =>
  rowsOf(
    tx,
    taxCodeShape,
    sql`
    SELECT t.code, t.name, t.treatment, t.basis, t.use, t.reverse_charge AS "reverseCharge", t.country, t.recovery,
      coalesce((SELECT json_agg(json_build_object('name', c.name, 'account', c.account, 'inputAccount', c.input_account,
        'compound', c.compound, 'rates', coalesce((SELECT json_agg(json_build_object('from', r."from", 'percent', r.percent::text)
          ORDER BY r."from") FROM tax_rate r WHERE r.client_id = c.client_id AND r.code = c.code AND r.position = c.position), '[]'))
        ORDER BY c.position) FROM tax_component c WHERE c.client_id = t.client_id AND c.code = t.code), '[]') AS components
    FROM tax_code t WHERE t.client_id = current_client() ORDER BY t.code`,
  )

export const loadRules = (tx: Transaction): Promise<Rule[]> =>
  rowsOf(
    tx,
    ruleShape,
    sql`SELECT rule_id AS id, conditions, actions FROM rule WHERE client_id = current_client() ORDER BY position`,
  )

export const loadItems = (tx: Transaction): Promise<Item[]> =>
  rowsOf(
    tx,
    itemShape,
    sql`SELECT code, name, other_names AS "otherNames", account, tax_code AS "taxCode", costs FROM item
    WHERE client_id = current_client() ORDER BY code`,
  )

/** A row of the tax grid as it is kept: with its id, and why a code of another country is meant (empty: not said). */
export type StoredTaxRow = Omit<TaxRow, 'id'> & { readonly id: number; readonly reason: string }

export const loadTaxRows = (tx: Transaction): Promise<StoredTaxRow[]> =>
  rowsOf(
    tx,
    { ...taxRowShape, reason: is.text },
    sql`SELECT row_id AS id, source, kind, label, region, class, "from"::text, code, reason FROM tax_row
    WHERE client_id = current_client() ORDER BY row_id`,
  )

export const loadClasses = (tx: Transaction): Promise<ClassEntry[]> =>
  rowsOf(
    tx,
    classShape,
    sql`SELECT nullif(sku, '') AS sku, nullif(category, '') AS category, class FROM product_class
    WHERE client_id = current_client() ORDER BY sku COLLATE "C", category COLLATE "C"`,
  )

/** Whether the codes of supplies are decided by tax rows, or by their routes. */
export const loadTaxBy = async (tx: Transaction): Promise<'routes' | 'rows'> =>
  (
    await oneRow(
      tx,
      { by: is.oneOf('routes', 'rows') },
      sql`SELECT tax_by AS by FROM client WHERE client_id = current_client()`,
    )
  ).by

/** The version of the map that stands; 0 before the first save. */
export const currentVersion = async (tx: Transaction): Promise<number> =>
  (
    await oneRow(
      tx,
      { version: is.whole },
      sql`SELECT coalesce(max(version), 0)::int AS version FROM map_version WHERE client_id = current_client()`,
    )
  ).version
