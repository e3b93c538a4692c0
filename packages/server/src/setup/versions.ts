import { sql } from 'drizzle-orm'
import { type Actor, oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadClasses, loadItems, loadRoutes, loadRules, loadTaxCodes, loadTaxRows } from './loadMap.ts'
import { accountsJson, banksJson, clearingJson, factsJson, sourcesJson } from './setupParts.ts'
import { keptShapeNumber } from './stored.ts'

/** Says who saved in between. */
export const loadConflict = async (
  tx: Transaction,
  madeFrom: number,
): Promise<{ by: string; version: number; madeFrom: number }> => {
  const { version, name } = await oneRow(
    tx,
    { version: is.whole, name: is.text },
    sql`SELECT m.version, coalesce(u.name, 'somebody') AS name FROM map_version m LEFT JOIN app_user u ON u.user_id = m."by"
      WHERE m.client_id = current_client() ORDER BY m.version DESC LIMIT 1`,
  )
  return { by: name, version, madeFrom }
}

/** Keeps all that decides bookings as it is now as the next version: the map, and the accounts, sources and facts that it stands on. */
export const saveMapVersion = async (tx: Transaction, actor: Actor): Promise<number> => {
  const version = await countSave(tx)
  await tx.execute(sql`
    INSERT INTO map_version (client_id, version, "by", routes, tax_codes, rules, items, labels, tax_rows, classes, kept)
    VALUES (current_client(), ${version}, ${actor.userId}, ${JSON.stringify(await loadRoutes(tx))}::jsonb,
      ${JSON.stringify(await loadTaxCodes(tx))}::jsonb, ${JSON.stringify(await loadRules(tx))}::jsonb,
      ${JSON.stringify(await loadItems(tx))}::jsonb,
      coalesce((SELECT jsonb_object_agg(label, source) FROM gateway_label), '{}'),
      CASE (SELECT tax_by FROM client WHERE client_id = current_client()) WHEN 'rows' THEN ${JSON.stringify(await loadTaxRows(tx))}::jsonb END,
      ${JSON.stringify(await loadClasses(tx))}::jsonb,
      jsonb_build_object('shape', ${keptShapeNumber}::int, 'facts', ${factsJson}, 'accounts', ${accountsJson}, 'sources', ${sourcesJson()},
        'clearing', ${clearingJson}, 'banks', ${banksJson}))`)
  return version
}

/** Counts a save of anything that decides bookings; the setup must be held. Returns its number. */
export const countSave = async (tx: Transaction): Promise<number> =>
  (
    await oneRow(
      tx,
      { version: is.whole },
      sql`UPDATE client SET setup_version = setup_version + 1 WHERE client_id = current_client() RETURNING setup_version AS version`,
    )
  ).version
