import { endpoints, type JobSort } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { found, Refused } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { endDeadJobs } from './deadJobs.ts'
import { loadJob, loadJobs } from './loadJobs.ts'

/** Asks whoever works on a job to stop; whoever may cancel one sort may not cancel another. */
const cancel = (database: Database, actor: Actor, jobId: string, sorts: readonly JobSort[]): Promise<void> =>
  asClient(database, actor, async tx => {
    const [job] = await rowsOf(
      tx,
      { state: is.text },
      sql`SELECT state FROM job WHERE client_id = current_client() AND job_id = ${jobId} AND sort = ANY(${sql.param([...sorts])}::text[])`,
    )
    found(job, 'job')
    const asked = await rowsOf(
      tx,
      { state: is.text },
      sql`UPDATE job SET state = 'cancelling'
        WHERE client_id = current_client() AND job_id = ${jobId} AND state IN ('waiting', 'running', 'cancelling') RETURNING state`,
    )
    if (asked.length === 0) throw new Refused('job_over')
    await endDeadJobs(tx)
  })

/** The log of jobs, and how one is stopped. */
export const jobRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.jobs, async ({ actor, query }) => ({
    jobs: await asClient(database, actor, async tx => {
      await endDeadJobs(tx)
      return loadJobs(tx, query.state ?? null)
    }),
  }))
  serve(router, endpoints.job, async ({ actor, params }) =>
    found(
      await asClient(database, actor, async tx => {
        await endDeadJobs(tx)
        return loadJob(tx, params.job)
      }),
      'job',
    ),
  )
  serve(router, endpoints.cancelPull, async ({ actor, params }) => {
    await cancel(database, actor, params.job, ['pull', 'bank_pull', 'upload', 'statement'])
    return {}
  })
  serve(router, endpoints.cancelPosting, async ({ actor, params }) => {
    await cancel(database, actor, params.job, ['post', 'take_back'])
    return {}
  })
  serve(router, endpoints.cancelConfirming, async ({ actor, params }) => {
    await cancel(database, actor, params.job, ['confirm', 'confirm_certain'])
    return {}
  })
  serve(router, endpoints.cancelCounting, async ({ actor, params }) => {
    await cancel(database, actor, params.job, ['count'])
    return {}
  })
  return router
}
