import { randomUUID } from 'node:crypto'
import { setTimeout as pause } from 'node:timers/promises'
import { type JobSort, jobSorts, type Problem } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { problemOf } from '../access/answerProblem.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { isUnreachable } from '../database/reachable.ts'
import { is } from '../database/rows.ts'

/** Somebody has cancelled the job: no fault. */
export class JobCancelled extends Error {
  override readonly name = 'JobCancelled'
}

interface NewJob {
  readonly sort: JobSort
  readonly subject: string
  readonly message?: string
  /** What it is to do, for whoever takes it up. */
  readonly asked?: unknown
  readonly total?: number | null
}

/** Notes in the log that something begins, now or when a worker takes it up. Returns its id. */
export const beginJob = async (
  tx: Transaction,
  actor: Actor,
  state: 'waiting' | 'running',
  { sort, subject, message = '', asked, total = null }: NewJob,
): Promise<string> => {
  const jobId = randomUUID()
  await tx.execute(sql`INSERT INTO job (client_id, job_id, sort, subject, state, "by", message, asked, total, started_at)
    VALUES (current_client(), ${jobId}, ${sort}, ${subject}, ${state}, ${actor.userId}, ${message},
      ${asked === undefined ? null : JSON.stringify(asked)}::jsonb, ${total}, clock_now())`)
  return jobId
}

/** A job as whoever works on it took it up: what it is asked, and what had come of it before it was broken off. */
export interface TakenJob {
  readonly sort: JobSort
  readonly subject: string
  readonly message: string
  readonly asked: unknown
  readonly outcome: unknown
  readonly done: number
  readonly total: number | null
}

/** Takes up a job that waits, or that another worker left; null when it is over, whatever ended it. */
export const takeUpJob = (database: Database, actor: Actor, jobId: string): Promise<TakenJob | null> =>
  asClient(database, actor, async tx => {
    const stopped = await rowsOf(
      tx,
      {},
      sql`SELECT FROM job WHERE client_id = current_client() AND job_id = ${jobId} AND state = 'cancelling'`,
    )
    if (stopped.length > 0) await endJob(tx, jobId, { state: 'cancelled' })
    const [row] = await rowsOf(
      tx,
      {
        sort: is.oneOf(...jobSorts),
        subject: is.text,
        message: is.text,
        asked: is.anything,
        outcome: is.anything,
        done: is.whole,
        total: is.maybe(is.whole),
      },
      sql`UPDATE job SET state = 'running' WHERE client_id = current_client() AND job_id = ${jobId} AND state IN ('waiting', 'running')
        RETURNING sort, subject, message, asked, outcome, done, total`,
    )
    return row ?? null
  })

/** How far a job is; `total` is null where nobody can say. */
export interface JobProgress {
  done: number
  total: number | null
}

const lookEveryMs = 700

/**
 * Works with a signal that aborts, with `JobCancelled`, soon after somebody has asked to cancel the job. With `progress`, which the work moves on, the log is
 * told of it as often as it is looked at.
 */
export const untilCancelled = async <Result>(
  database: Database,
  actor: Actor,
  job: { readonly jobId: string; readonly progress?: JobProgress },
  work: (signal: AbortSignal) => Promise<Result>,
): Promise<Result> => {
  const controller = new AbortController()
  const over = new AbortController()
  const look = async (): Promise<void> => {
    while (!over.signal.aborted) {
      await pause(lookEveryMs, undefined, { signal: over.signal }).catch(() => undefined)
      if (over.signal.aborted) return
      const told = job.progress
      const [row] = await asClient(database, actor, tx =>
        rowsOf(
          tx,
          { state: is.text },
          told === undefined
            ? sql`SELECT state FROM job WHERE client_id = current_client() AND job_id = ${job.jobId}`
            : sql`UPDATE job SET done = greatest(done, ${told.done}), total = ${told.total}
              WHERE client_id = current_client() AND job_id = ${job.jobId} AND state IN ('running', 'cancelling') RETURNING state`,
        ),
      ).catch(() => [])
      if (row?.state === 'cancelling') controller.abort(new JobCancelled('cancelled'))
    }
  }
  void look()
  try {
    return await work(controller.signal)
  } catch (error) {
    // Whatever broke off by the signal says so in words of its own.
    throw controller.signal.aborted && !isUnreachable(error) ? controller.signal.reason : error
  } finally {
    over.abort()
  }
}

/**
 * Notes how far a job is and, in the same transaction, what has come of it: where that is told of what the transaction does, a worker that takes the job up
 * after a break goes on from there. @throws JobCancelled when somebody has asked to cancel it
 */
export const noteProgress = async (
  tx: Transaction,
  jobId: string,
  { done, total, outcome }: { done: number; total: number | null; outcome?: unknown },
): Promise<void> => {
  const [row] = await rowsOf(
    tx,
    { state: is.text },
    sql`UPDATE job SET done = ${done}, total = ${total}, outcome = coalesce(${outcome === undefined ? null : JSON.stringify(outcome)}::jsonb, outcome)
      WHERE client_id = current_client() AND job_id = ${jobId} RETURNING state`,
  )
  if (row?.state !== 'running') throw new JobCancelled('cancelled')
}

/** Notes how far a job is, in a transaction of its own. @throws JobCancelled when somebody has asked to cancel it */
export const tellProgress = (database: Database, actor: Actor, jobId: string, progress: JobProgress): Promise<void> =>
  asClient(database, actor, tx => noteProgress(tx, jobId, progress))

interface End {
  readonly state: 'done' | 'failed' | 'cancelled'
  /** Left as it is where nothing is said. */
  readonly message?: string
  /** Of what brings rows in, with `added`, `revised` and `same`: the log shows them. */
  readonly outcome?: unknown
  readonly refusal?: Problem
  readonly progress?: JobProgress
}

/** Ends a job that is not over: what it was asked, and a file that it was to read, are not kept. */
export const endJob = async (tx: Transaction, jobId: string, end: End): Promise<void> => {
  await tx.execute(sql`UPDATE job SET state = ${end.state}, ended_at = clock_now(), asked = NULL,
      message = coalesce(${end.message?.slice(0, 2000) ?? null}, message),
      outcome = coalesce(told.outcome, job.outcome), added = coalesce((told.outcome->>'added')::int, 0),
      revised = coalesce((told.outcome->>'revised')::int, 0), same = coalesce((told.outcome->>'same')::int, 0),
      done = greatest(done, ${end.progress?.done ?? 0}), total = coalesce(${end.progress?.total ?? null}, total),
      refusal = ${end.refusal === undefined ? null : JSON.stringify(end.refusal)}::jsonb
    FROM (SELECT ${end.outcome === undefined ? null : JSON.stringify(end.outcome)}::jsonb AS outcome) told
    WHERE client_id = current_client() AND job_id = ${jobId} AND state IN ('waiting', 'running', 'cancelling')`)
  await tx.execute(sql`DELETE FROM received_part WHERE client_id = current_client() AND job_id = ${jobId}`)
}

/** Says of a job that it was refused, after everything else of it is undone. `name`: of the file that it was to read. */
export const noteRefusal = (
  database: Database,
  actor: Actor,
  refused: { readonly jobId: string; readonly name: string; readonly error: unknown },
): Promise<void> =>
  asClient(database, actor, async tx => {
    const { error } = refused
    const said = error instanceof Error && error.name.endsWith('Refused') ? error.message : 'it could not be stored'
    const message = refused.name === '' ? said : `${refused.name}: ${said}`
    await endJob(tx, refused.jobId, { state: 'failed', message, refusal: problemOf(error) })
    await markStages(tx, ['sources'])
  }).catch(() => undefined)
