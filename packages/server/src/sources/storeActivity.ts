import { sql } from 'drizzle-orm'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { recompose } from '../settlements/recompose.ts'
import type { SettlementKey } from '../settlements/settlementKey.ts'
import { countCorrections, type Merged, mergeActivity, refreshSettlements } from './mergeActivity.ts'

/** Stores what is staged and brings everything that rests on it up to date: settlements, corrections, the course. */
export const storeStaged = async (
  tx: Transaction,
  source: string,
  headsTouched: readonly SettlementKey[] = [],
): Promise<Merged> => {
  const merged = await mergeActivity(tx, source)
  await refreshStatistics(tx, merged.added)
  const touched = [...merged.touched, ...headsTouched]
  await settleTouched(tx, touched)
  return merged
}

/** From so many new lines on, which are also a tenth of all, the planner's statistics are taken anew. */
const manyLines = 2000

const refreshStatistics = async (tx: Transaction, added: number): Promise<void> => {
  if (added < manyLines) return
  const { known } = await oneRow<{ known: number }>(
    tx,
    sql`
    SELECT greatest(reltuples, 0)::bigint AS known FROM pg_class WHERE oid = 'activity_line'::regclass`,
  )
  if (added > known / 10) await tx.execute(sql`SELECT refresh_activity_statistics()`)
}

/** Brings settlements up to date after their lines or heads have changed. */
export const settleTouched = async (tx: Transaction, touched: readonly SettlementKey[]): Promise<void> => {
  if (touched.length === 0) return
  await refreshSettlements(tx, touched)
  await countCorrections(tx, touched)
  await recompose(tx, touched)
  await refreshSummary(tx, ['sources', 'mapping', 'settlements', 'clearing', 'close'])
}

/** Says up to which moment a source's activity is known: its last line. */
export const markPulledTo = (tx: Transaction, source: string, cursor: string | null) =>
  tx.execute(sql`UPDATE source s SET cursor = coalesce(${cursor}, cursor),
      pulled_to = (SELECT max(occurred_at) FROM activity_line l WHERE l.source = s.source
        AND l.local_date = (SELECT max(local_date) FROM activity_line d WHERE d.source = s.source))
    WHERE client_id = current_client() AND source = ${source}`)
