import type { JobSort, Subject } from '@culvert/contract'
import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from './boss.ts'
import { endDeadJobs } from './deadJobs.ts'
import { startJob } from './startJob.ts'

/** Begins a pull in the caller's transaction, which holds the row of what is pulled; a second press joins the pull that is under way. Its job. */
export const joinPull = async (
  tx: Transaction,
  jobs: Jobs,
  actor: Actor,
  of: { readonly sort: Extract<JobSort, 'pull' | 'bank_pull'>; readonly subject: string; readonly touches: Subject },
): Promise<string> => {
  await endDeadJobs(tx)
  const [running] = await rowsOf(
    tx,
    { id: is.text },
    sql`SELECT job_id AS id FROM job WHERE client_id = current_client()
      AND subject = ${of.subject} AND sort = ${of.sort} AND state IN ('waiting', 'running', 'cancelling')`,
  )
  if (running) return running.id
  await recordAct(tx, actor, {
    sort: 'bring',
    note: 'pull',
    touched: [{ subject: of.touches, key: subjectKey(of.subject) }],
  })
  return startJob(tx, jobs, actor, { sort: of.sort, subject: of.subject })
}
