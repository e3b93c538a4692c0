import { sql } from 'drizzle-orm'
import { markStages } from '../course/markStages.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { liveJobs } from './boss.ts'

/**
 * Ends entries of the log whose work is over though they do not say so: the process was killed, the job given up. Whatever ended it, its row says
 * so, and it can be started again.
 */
export const endDeadJobs = async (tx: Transaction): Promise<void> => {
  const open = await rowsOf(
    tx,
    { jobId: is.text },
    sql`SELECT job_id AS "jobId" FROM job WHERE client_id = current_client() AND state IN ('waiting', 'running', 'cancelling')
      AND started_at < clock_now() - interval '20 seconds'`,
  )
  if (open.length === 0) return
  const ids = open.map(one => one.jobId)
  const live = new Set((await liveJobs(tx, ids)).map(one => one.jobId))
  const dead: string[] = []
  for (const id of ids) if (!live.has(id) && (await isLeft(tx, id))) dead.push(id)
  if (dead.length === 0) return
  await tx.execute(sql`UPDATE job SET state = CASE WHEN state = 'cancelling' THEN 'cancelled' ELSE 'failed' END, ended_at = clock_now(), asked = NULL,
      message = CASE WHEN state = 'cancelling' THEN message
        WHEN sort IN ('upload', 'statement') THEN message || ': it was broken off, and nothing of it was kept'
        ELSE 'It was broken off. What was done until then is kept; start it again to go on from there.' END
    WHERE client_id = current_client() AND job_id = ANY(${sql.param(dead)}::text[]) AND state IN ('waiting', 'running', 'cancelling')`)
  await tx.execute(
    sql`DELETE FROM received_part WHERE client_id = current_client() AND job_id = ANY(${sql.param(dead)}::text[])`,
  )
  await markStages(tx, ['sources'])
}

/** Said by the transaction that does at once what the entry tells of, for as long as it lives. */
export const holdJob = (tx: Transaction, jobId: string) =>
  tx.execute(sql`SELECT pg_advisory_xact_lock(hashtextextended(${jobId}, 1))`)

const isLeft = async (tx: Transaction, jobId: string): Promise<boolean> => {
  const [row] = await rowsOf(
    tx,
    { free: is.yes },
    sql`SELECT pg_try_advisory_xact_lock(hashtextextended(${jobId}, 1)) AS free`,
  )
  return row?.free === true
}
