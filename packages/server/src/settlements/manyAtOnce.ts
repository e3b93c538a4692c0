import { keysBody, postOutcome, takeBackOutcome } from '@culvert/contract'
import { type JobWork, stepsOf } from '../jobs/runJob.ts'
import { postSettlements } from './postSettlements.ts'
import { takeBack } from './takeBack.ts'

/** Settlements up to which an act answers with its outcome: one batch. More go on as a job. */
export const mostAtOnce = 200

export const postMany: JobWork = (database, actor, job) => {
  const { keys } = keysBody.parse(job.asked)
  return postSettlements(
    database,
    actor,
    keys,
    stepsOf(job, keys.length, kept => postOutcome.parse(kept)),
  )
}

export const takeBackMany: JobWork = (database, actor, job) => {
  const { keys } = keysBody.parse(job.asked)
  return takeBack(
    database,
    actor,
    keys,
    stepsOf(job, keys.length, kept => takeBackOutcome.parse(kept)),
  )
}
