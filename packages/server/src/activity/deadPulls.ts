import { sql } from 'drizzle-orm'
import { markStages } from '../course/markStages.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { livePulls } from '../jobs/boss.ts'

/**
 * Ends entries of the pull log whose work is over though they do not say so: the process was killed, the job given up. Whatever ended it, its row says
 * so, and it can be started again.
 */
export const endDeadPulls = async (tx: Transaction): Promise<void> => {
  const open = await rowsOf(
    tx,
    { pullId: is.text, sort: is.text, state: is.text },
    sql`SELECT pull_id AS "pullId", sort, state FROM pull WHERE client_id = current_client() AND state IN ('waiting', 'running', 'cancelling')
      AND started_at < clock_now() - interval '20 seconds'`,
  )
  if (open.length === 0) return
  const live = new Set(
    (
      await livePulls(
        tx,
        open.map(one => one.pullId),
      )
    ).map(one => one.pullId),
  )
  const dead: string[] = []
  for (const { pullId, sort } of open)
    if (sort === 'pull' || sort === 'bank_pull' ? !live.has(pullId) : await isLeft(tx, pullId)) dead.push(pullId)
  if (dead.length === 0) return
  await tx.execute(sql`UPDATE pull SET state = CASE WHEN state = 'cancelling' THEN 'cancelled' ELSE 'failed' END, ended_at = clock_now(),
      message = CASE WHEN state = 'cancelling' THEN message
        WHEN sort IN ('pull', 'bank_pull') THEN 'It was broken off. What came in until then is kept; start it again to go on from there.'
        ELSE message || ': it was broken off, and nothing of it was kept' END
    WHERE client_id = current_client() AND pull_id = ANY(${sql.param(dead)}::text[]) AND state IN ('waiting', 'running', 'cancelling')`)
  await markStages(tx, ['sources'])
}

/** Said by the transaction that reads a file in, for as long as it lives. */
export const holdUpload = (tx: Transaction, pullId: string) =>
  tx.execute(sql`SELECT pg_advisory_xact_lock(hashtextextended(${pullId}, 1))`)

const isLeft = async (tx: Transaction, pullId: string): Promise<boolean> => {
  const [row] = await rowsOf(
    tx,
    { free: is.yes },
    sql`SELECT pg_try_advisory_xact_lock(hashtextextended(${pullId}, 1)) AS free`,
  )
  return row?.free === true
}
