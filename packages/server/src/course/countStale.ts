import { sql } from 'drizzle-orm'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { type Counters, type Look, type Stage, stages } from './stages.ts'

interface Mark {
  readonly stage: Stage
  readonly marks: number
}

const loadStale = (tx: Transaction): Promise<Mark[]> =>
  rowsOf(
    tx,
    { stage: is.oneOf(...stages), marks: is.whole },
    sql`SELECT stage, marks FROM client_summary WHERE client_id = current_client() AND stale ORDER BY stage`,
  )

/** How often a stage is counted that is marked again each time meanwhile; then its count stays stale until the next look. */
const mostRounds = 3

/**
 * Counts what is out of date, each stage in a transaction of its own, and holds nothing while it counts. What was marked again meanwhile is counted once more: the mark
 * that was read before must still be there when the count is written.
 */
export const countStale = async (database: Database, actor: Actor, counters: Counters): Promise<void> => {
  for (let round = 0; round < mostRounds; round++) {
    const stale = await asClient(database, actor, loadStale)
    if (stale.length === 0) return
    const look: Look = read => asClient(database, actor, read)
    await Promise.all(stale.map(mark => retrying(() => countStage(look, mark, counters))))
  }
}

/** The same in a transaction that is open already. */
export const countStaleIn = async (tx: Transaction, counters: Counters): Promise<void> => {
  for (const mark of await loadStale(tx)) await countStage(read => read(tx), mark, counters)
}

const countStage = async (look: Look, { stage, marks }: Mark, counters: Counters): Promise<void> => {
  if (!stages.includes(stage)) return
  const { waiting, amount, note } = await counters[stage](look)
  await look(tx =>
    tx.execute(sql`UPDATE client_summary SET waiting = ${waiting}, amount = ${amount}, note = ${note}, stale = false, at = clock_now()
    WHERE client_id = current_client() AND stage = ${stage} AND marks = ${marks}`),
  )
}
