import { confirmBody, confirmOutcome } from '@culvert/contract'
import { z } from 'zod'
import { type JobWork, type Running, stepsOf } from '../jobs/runJob.ts'
import { confirmCertain, confirmPairings } from './confirmPairings.ts'

/** Groups up to which confirming answers with its outcome. More go on as a job. */
export const mostAtOnce = 200

const stepsFor = (job: Running, total: number) => stepsOf(job, total, kept => confirmOutcome.parse(kept))

/** All in one transaction: a job that is taken up again either has its outcome by then or nothing of it was done. */
export const confirmMany: JobWork = (database, actor, job) => {
  if (job.outcome !== null) return Promise.resolve(job.outcome)
  const wanted = confirmBody.parse(job.asked)
  return confirmPairings(database, actor, wanted, stepsFor(job, wanted.groups.length))
}

export const confirmManyCertain: JobWork = (database, actor, job) => {
  if (job.outcome !== null) return Promise.resolve(job.outcome)
  const { account } = z.object({ account: z.string() }).parse(job.asked)
  return confirmCertain(database, actor, account, stepsFor(job, job.total ?? 0))
}
