import type { Actor, Database } from '../database/connect.ts'
import { recomposeOutdated } from './recompose.ts'
import { settleMarked } from './settleMarked.ts'

/** Brings up to date whatever was stored or saved and not followed yet, whoever left it so: an act that was broken off is made good by the next. */
export const follow = async (database: Database, actor: Actor): Promise<void> => {
  await settleMarked(database, actor)
  await recomposeOutdated(database, actor)
}
