import { type SavedOptions, type SourceOptionsBody, savedOptions, saveOptionsBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { isSameCounting } from '../activity/countsBy.ts'
import { type Actor, asClient, type Database, oneRow } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from '../jobs/boss.ts'
import { noteProgress } from '../jobs/jobLog.ts'
import type { JobWork } from '../jobs/runJob.ts'
import { atOnceOrJob } from '../jobs/startJob.ts'
import { loadOptions, saveOptions } from './sourceOptions.ts'

/** Lines of a source up to which they are counted by another moment while whoever saved waits. */
const mostAtOnce = 30_000

interface Save {
  readonly source: string
  readonly options: SourceOptionsBody
  readonly madeFrom: number | undefined
}

/** Saves options at once, or as a job where many lines would count by another moment. @throws Refused, Conflict */
export const saveOrCount = async (
  database: Database,
  jobs: Jobs,
  actor: Actor,
  save: Save,
): Promise<SavedOptions | { job: string }> => {
  const { now, lines } = await asClient(database, actor, async tx => ({
    now: await loadOptions(tx, save.source),
    ...(await oneRow(
      tx,
      { lines: is.whole },
      sql`SELECT coalesce(sum(lines), 0)::bigint AS lines FROM settlement WHERE client_id = current_client() AND source = ${save.source}`,
    )),
  }))
  return atOnceOrJob(database, jobs, actor, {
    small: lines <= mostAtOnce || isSameCounting(now.options, save.options),
    act: () => saveOptions(database, actor, save),
    // What it is made from stands with it: whoever saves before the job is taken up is not overruled by it.
    job: {
      sort: 'count',
      subject: save.source,
      asked: { version: save.madeFrom ?? now.version, options: save.options },
      total: lines,
    },
  })
}

/** The same as a job. One that was saved before the job was broken off has its outcome, and is not saved again. */
export const countAsJob: JobWork = async (database, actor, job) => {
  if (job.outcome !== null) return savedOptions.parse(job.outcome)
  const { version, options } = saveOptionsBody.parse(job.asked)
  const { progress, signal } = job
  progress.done = 0
  return saveOptions(
    database,
    actor,
    { source: job.subject, options, madeFrom: version },
    {
      counted: lines => {
        signal.throwIfAborted()
        progress.done += lines
      },
      saved: (tx, outcome) => noteProgress(tx, job.jobId, { ...progress, outcome }),
    },
  )
}
