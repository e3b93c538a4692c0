import { type JobRow, jobSorts, jobStates, problem, type WholeJob } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Reads what the log says of a job. */
export const jobShape = {
  jobId: is.text,
  sort: is.oneOf(...jobSorts),
  subject: is.text,
  state: is.oneOf(...jobStates),
  startedAt: is.text,
  endedAt: is.maybe(is.text),
  by: is.text,
  done: is.whole,
  total: is.maybe(is.whole),
  message: is.text,
}

const columns = sql`j.job_id AS "jobId", j.sort, j.subject, j.state, to_json(j.started_at)#>>'{}' AS "startedAt", to_json(j.ended_at)#>>'{}' AS "endedAt",
  u.name AS "by", j.done, j.total, j.message`

/** The log of jobs, the latest first; or those that are not over. */
export const loadJobs = (tx: Transaction, only: 'under_way' | null): Promise<JobRow[]> =>
  rowsOf(
    tx,
    jobShape,
    sql`SELECT ${columns} FROM job j JOIN app_user u ON u.user_id = j."by" WHERE j.client_id = current_client()
      ${only === null ? sql`` : sql`AND j.state IN ('waiting', 'running', 'cancelling')`} ORDER BY j.ordinal DESC LIMIT 100`,
  )

/** One job, with what has come of it so far; undefined where there is none. */
export const loadJob = async (tx: Transaction, jobId: string): Promise<WholeJob | undefined> => {
  const [row] = await rowsOf(
    tx,
    { ...jobShape, outcome: is.anything, refusal: is.anything },
    sql`SELECT ${columns}, j.outcome, j.refusal FROM job j JOIN app_user u ON u.user_id = j."by"
      WHERE j.client_id = current_client() AND j.job_id = ${jobId}`,
  )
  return row && { ...row, refusal: row.refusal === null ? null : problem.parse(row.refusal) }
}
