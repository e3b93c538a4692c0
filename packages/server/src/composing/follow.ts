import type { Actor, Database } from '../database/connect.ts'
import { recomposeOutdated } from './recomposeOutdated.ts'
import { settleMarked } from './settleMarked.ts'

/** Brings up to date whatever was stored or saved and not followed yet, whoever left it so: an act that was broken off is made good by the next. `tell` hears of each batch. */
export const follow = async (
  database: Database,
  actor: Actor,
  tell: (composed: number) => void = () => undefined,
): Promise<void> => {
  await settleMarked(database, actor)
  await recomposeOutdated(database, actor, tell)
}
