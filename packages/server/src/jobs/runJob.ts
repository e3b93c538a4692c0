import { type JobSort, pullSorts } from '@culvert/contract'
import { isRefusal, problemOf } from '../access/answerProblem.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Report, type Transaction } from '../database/connect.ts'
import { isUnreachable } from '../database/reachable.ts'
import { retrying } from '../database/retry.ts'
import type { JobData } from './boss.ts'
import {
  endJob,
  JobCancelled,
  type JobProgress,
  noteProgress,
  type TakenJob,
  takeUpJob,
  untilCancelled,
} from './jobLog.ts'

/** A job under way. */
export interface Running extends TakenJob {
  readonly jobId: string
  /** Aborts soon after somebody has asked to cancel it. */
  readonly signal: AbortSignal
  /** Moved on by the work; the log is told of it now and then. */
  readonly progress: JobProgress
}

/** Does what a job is asked to do, from where it was broken off if it was; returns its outcome. */
export type JobWork = (database: Database, actor: Actor, job: Running) => Promise<unknown>

/** Runs a job to its end, whatever that is, and says so in the log. A database that goes away is the caller's to wait for. */
export const runJob = async (
  database: Database,
  data: JobData,
  works: Partial<Record<JobSort, JobWork>>,
  report: Report,
): Promise<void> => {
  const actor: Actor = { userId: data.userId, clientId: data.clientId }
  const taken = await takeUpJob(database, actor, data.jobId)
  if (!taken) return
  const work = works[taken.sort]
  if (!work) throw new Error(`nobody does ${taken.sort}`)
  const progress: JobProgress = { done: taken.done, total: taken.total }
  const end = (told: Parameters<typeof endJob>[2]) =>
    retrying(() =>
      asClient(database, actor, async tx => {
        await endJob(tx, data.jobId, { ...told, progress })
        if (pullSorts.some(sort => sort === taken.sort)) await markStages(tx, ['sources'])
      }),
    )
  try {
    const outcome = await untilCancelled(database, actor, { jobId: data.jobId, progress }, signal =>
      work(database, actor, { ...taken, jobId: data.jobId, signal, progress }),
    )
    await end({ state: 'done', outcome })
  } catch (error) {
    if (isUnreachable(error)) throw error
    if (error instanceof JobCancelled) return end({ state: 'cancelled' })
    if (!isRefusal(error)) report(error, `job ${data.jobId}`)
    const refusal = problemOf(error)
    await end({
      state: 'failed',
      refusal,
      message: taken.message === '' ? refusal.error : `${taken.message}: ${refusal.error}`,
    })
  }
}

/** An act on many things that tells, in each of its transactions, how many it has been through and what has come of it so far. */
export interface Steps<Outcome> {
  /** How many of what was asked were gone through before it was broken off. */
  readonly start: number
  readonly outcome: Outcome | null
  /** @throws JobCancelled, which undoes the step */
  note(tx: Transaction, done: number, outcome: Outcome): Promise<void>
  /** What each must come to still, as a digest by its key: where somebody consented to just that. */
  readonly bound?: ReadonlyMap<string, string>
}

/** The steps of a job, of which `read` knows the outcome as it was kept. */
export const stepsOf = <Outcome>(
  job: Pick<Running, 'jobId' | 'done' | 'outcome' | 'progress'>,
  total: number,
  read: (kept: unknown) => Outcome,
): Steps<Outcome> => {
  job.progress.total = total
  return {
    start: job.outcome === null ? 0 : job.done,
    outcome: job.outcome === null ? null : read(job.outcome),
    note: (tx, done, outcome) => noteProgress(tx, job.jobId, { done, total, outcome }),
  }
}
