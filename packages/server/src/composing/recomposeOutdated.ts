import { sql } from 'drizzle-orm'
import { inKeyOrder, inKeyOrderDown, keyShape } from '../activity/settlementKey.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { batchSize, recompose } from './recompose.ts'

/**
 * Settlements that are not posted and were composed under another setup than the one that stands: the first of them, or the last of those that are
 * not among the first.
 */
const loadOutdated = (tx: Transaction, lane: Lane) => {
  const outdated = sql`settlement s JOIN client c ON c.client_id = s.client_id
    WHERE s.client_id = current_client() AND s.state IN ('blocked', 'proposed', 'set_aside', 'elsewhere') AND s.map_version <> c.setup_version`
  const key = sql`SELECT s.source, s.key, s.currency FROM ${outdated}`
  return rowsOf(
    tx,
    keyShape,
    lane === 'first'
      ? sql`${key} ORDER BY ${inKeyOrder} LIMIT ${batchSize}`
      : sql`${key} ORDER BY ${inKeyOrderDown}
          LIMIT least(${batchSize}, greatest(0, (SELECT count(*) FROM ${outdated}) - ${batchSize}))`,
  )
}

type Lane = 'first' | 'last'

/**
 * Composes anew, a batch at a time in transactions of their own, whatever was composed under a setup that is no more. Whoever ends last, a save or
 * a pull, finds what the other left: neither has to wait for the other's whole work. Two batches are in hand at once, from both ends: while the
 * lines of one are added up in the database, the other is composed.
 */
export const recomposeOutdated = async (
  database: Database,
  actor: Actor,
  tell: (composed: number) => void = () => undefined,
): Promise<void> => {
  const lanes = await Promise.allSettled(
    (['first', 'last'] as const).map(lane => recomposeLane(database, actor, lane, tell)),
  )
  const failed = lanes.find(one => one.status === 'rejected')
  if (failed) throw failed.reason
  if (lanes.some(one => one.status === 'fulfilled' && one.value > 0))
    await retrying(() =>
      asClient(database, actor, tx => markStages(tx, ['mapping', 'settlements', 'payments', 'clearing', 'close'])),
    )
}

const recomposeLane = async (
  database: Database,
  actor: Actor,
  lane: Lane,
  tell: (composed: number) => void,
): Promise<number> => {
  for (let all = 0; ; ) {
    const found = await retrying(() =>
      asClient(database, actor, async tx => {
        const keys = await loadOutdated(tx, lane)
        await recompose(tx, keys)
        return keys.length
      }),
    )
    if (found === 0) return all
    all += found
    tell(found)
  }
}
