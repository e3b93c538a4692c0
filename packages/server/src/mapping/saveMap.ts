import { sql } from 'drizzle-orm'
import { Conflict } from '../access/refused.ts'
import { type ActSort, recordAct } from '../books/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, type Transaction } from '../database/connect.ts'
import { holdSetup } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { recomposeOutdated } from '../settlements/recompose.ts'
import { loadClasses, loadItems, loadRoutes, loadRules, loadTaxCodes, loadTaxRows } from './loadMap.ts'

/** The version of the map that a save was made from; undefined where whatever stands is to be changed. */
export type MadeFrom = number | undefined

interface MapSave<Result> {
  readonly act: ActSort
  readonly note: string
  readonly madeFrom: MadeFrom
  /** Writes what is saved, in the transaction that holds the client's setup. */
  readonly change: (tx: Transaction) => Promise<Result>
  /** What else must be so once it is saved, after the new version is there. */
  readonly after?: (tx: Transaction, version: number) => Promise<void>
}

/**
 * Saves a part of the map as its next version; then composes anew what is not posted, batch by batch, before it answers. Whoever saved in between is told
 * apart: a save that was made from an older version changes nothing. @throws Conflict
 */
export const saveMap = async <Result>(
  database: Database,
  actor: Actor,
  save: MapSave<Result>,
): Promise<{ version: number; result: Result }> => {
  const saved = await retrying(() =>
    asClient(database, actor, async tx => {
      const { mapVersion } = await holdSetup(tx)
      if (save.madeFrom !== undefined && save.madeFrom !== mapVersion)
        throw new Conflict(await conflictText(tx, save.madeFrom))
      const result = await save.change(tx)
      const version = await saveMapVersion(tx, actor)
      await save.after?.(tx, version)
      await recordAct(tx, actor, { sort: save.act, note: save.note })
      return { version, result }
    }),
  )
  await recomposeOutdated(database, actor)
  return saved
}

const conflictText = async (tx: Transaction, madeFrom: number): Promise<string> => {
  const { version, name } = await oneRow<{ version: number; name: string }>(
    tx,
    sql`SELECT m.version, coalesce(u.name, 'somebody') AS name FROM map_version m LEFT JOIN app_user u ON u.user_id = m."by"
      WHERE m.client_id = current_client() ORDER BY m.version DESC LIMIT 1`,
  )
  return `Meanwhile ${name} saved version ${version} of the map; yours was made from version ${madeFrom}. Nothing of either is lost: theirs is shown now beside yours. Look, and save again.`
}

/** Keeps the routes, rules, items, tax codes, tax rows, classes and gateways' labels as they are now as the next version of the map. */
const saveMapVersion = async (tx: Transaction, actor: Actor): Promise<number> => {
  const version = await countSave(tx)
  await tx.execute(sql`
    INSERT INTO map_version (client_id, version, "by", routes, tax_codes, rules, items, labels, tax_rows, classes)
    VALUES (current_client(), ${version}, ${actor.userId}, ${JSON.stringify(await loadRoutes(tx))}::jsonb,
      ${JSON.stringify(await loadTaxCodes(tx))}::jsonb, ${JSON.stringify(await loadRules(tx))}::jsonb,
      ${JSON.stringify(await loadItems(tx))}::jsonb,
      coalesce((SELECT jsonb_object_agg(label, source) FROM gateway_label), '{}'),
      CASE (SELECT tax_by FROM client WHERE client_id = current_client()) WHEN 'rows' THEN ${JSON.stringify(await loadTaxRows(tx))}::jsonb END,
      ${JSON.stringify(await loadClasses(tx))}::jsonb)`)
  return version
}

/** Counts a save of anything that decides bookings; the setup must be held. Returns its number. */
export const countSave = async (tx: Transaction): Promise<number> =>
  (
    await oneRow<{ version: number }>(
      tx,
      sql`UPDATE client SET setup_version = setup_version + 1 WHERE client_id = current_client() RETURNING setup_version AS version`,
    )
  ).version
