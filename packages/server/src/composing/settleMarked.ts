import { sql } from 'drizzle-orm'
import { inKeyOrder, keyRows, keyShape } from '../activity/settlementKey.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { refreshStatistics } from '../database/statistics.ts'
import { countCorrections } from './countCorrections.ts'
import { recompose } from './recompose.ts'

const batchSize = 200

/**
 * Brings up to date the settlements of which lines were stored and marked, a batch at a time in transactions of their own: a pull's steps store, and
 * this is done once at its end. Whoever comes later finds what was left by one that was broken off.
 */
export const settleMarked = async (database: Database, actor: Actor): Promise<void> => {
  for (let settled = 0; ; ) {
    const found = await retrying(() =>
      asClient(database, actor, async tx => {
        const keys = await rowsOf(
          tx,
          keyShape,
          sql`SELECT s.source, s.key, s.currency FROM settlement s WHERE s.client_id = current_client() AND s.touched
            ORDER BY ${inKeyOrder} LIMIT ${batchSize}`,
        )
        if (keys.length === 0) return 0
        // Without it the planner takes a new client for an empty one.
        if (settled === 0) await refreshStatistics(tx, 'settlement', keys.length === batchSize ? 2000 : 0)
        await recompose(tx, keys)
        await countCorrections(tx, keys)
        await tx.execute(sql`UPDATE settlement s SET touched = false FROM ${keyRows(keys)}
          WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency`)
        return keys.length
      }),
    )
    settled += found
    if (found > 0) continue
    if (settled > 0)
      await retrying(() =>
        asClient(database, actor, tx =>
          markStages(tx, ['sources', 'mapping', 'settlements', 'payments', 'clearing', 'close']),
        ),
      )
    return
  }
}
