import { Conflict } from '../access/refused.ts'
import { changesBetween, type Touchable } from '../acts/changes.ts'
import { type ActSort, recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { holdSetup } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { loadConflict, saveMapVersion } from '../setup/versions.ts'
import { composeLater } from './composeAnew.ts'
import { follow } from './follow.ts'

/** The version of the map that a save was made from; undefined where whatever stands is to be changed. */
export type MadeFrom = number | undefined

interface MapSave<Result> {
  readonly act: ActSort
  readonly note: string
  readonly madeFrom: MadeFrom
  /** What it is a part of, as it stands by the key of each row: what differs afterwards is what was changed. */
  readonly part: (tx: Transaction) => Promise<readonly Touchable[]>
  /** Writes what is saved, in the transaction that holds the client's setup. */
  readonly change: (tx: Transaction) => Promise<Result>
  /** What else must be so once it is saved, after the new version is there. */
  readonly after?: (tx: Transaction, version: number, result: Result) => Promise<void>
}

/**
 * Saves a part of the map as its next version; then composes anew what is not posted, batch by batch, before it answers or, where that is much, as a job. Whoever saved in between is told
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
        throw new Conflict('saved_meanwhile', await loadConflict(tx, save.madeFrom))
      const before = await save.part(tx)
      const result = await save.change(tx)
      const version = await saveMapVersion(tx, actor)
      await save.after?.(tx, version, result)
      const touched = changesBetween(before, await save.part(tx))
      await recordAct(tx, actor, { sort: save.act, note: save.note, touched })
      return { version, result, later: await composeLater(tx, database, actor) }
    }),
  )
  if (!saved.later) await follow(database, actor)
  return saved
}
