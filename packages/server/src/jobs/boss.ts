import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import PgBoss from 'pg-boss'
import { type Actor, asClient, type Database, type Report, rowsOf, type Transaction } from '../database/connect.ts'
import type { QueueName } from '../database/queues.ts'
import { isUnreachable, untilReachable } from '../database/reachable.ts'
import { is } from '../database/rows.ts'
import { lockOf, whileHeld } from './holding.ts'
import { endJob } from './jobLog.ts'

/** What a job carries: who asked for it, for which client, and its entry of the log, which says what it is to do. */
export interface JobData extends Actor {
  readonly jobId: string
}

const readJob = is.record({ userId: is.whole, clientId: is.whole, jobId: is.text })

export interface Jobs {
  /** Enqueues in the caller's transaction: no job for what was rolled back. */
  enqueue(tx: Transaction, queue: QueueName, data: JobData): Promise<void>
  /** Starts serving a queue with `work`, which may be run again at any time after it was broken off. */
  serve(queue: QueueName, work: (data: JobData) => Promise<void>): Promise<void>
  stop(): Promise<void>
}

// A process that has no queues does what it is asked to do itself, however long it takes.
const jobsOf = new WeakMap<Database, Jobs>()

/** The queues that this process reaches over a database; undefined where it reaches none. */
export const jobsOn = (database: Database): Jobs | undefined => jobsOf.get(database)

/** Jobs of one queue that run side by side in a process, and of these at most so many of one client: no other has to wait for all of its. */
const workers = 6

const mostOfOneClient = 3

/** A job whose worker died is taken up so many times before it is given up. */
const retryLimit = 5

/** How often jobs are looked for whose worker is gone, and entries of the log whose job is. */
const watchMs = 5000

/** Connects to the job queues, which the owner has made. */
export const startJobs = async (url: string, database: Database, report: Report): Promise<Jobs> => {
  const boss = new PgBoss({ connectionString: url, migrate: false, max: 4, schedule: false })
  boss.on('error', error => report(error, 'the job queue'))
  await boss.start()
  const watches: NodeJS.Timeout[] = []
  const loops: Promise<void>[] = []
  let stopping = false
  const isStopping = () => stopping
  const jobs: Jobs = {
    enqueue: async (tx, queue, data) => {
      const db = { executeSql: (text: string, values: unknown[]) => tx.$client.query(text, values) }
      await boss.send(queue, data, { db, ...jobOptions })
    },
    serve: async (queue, work) => {
      const watch = () =>
        recoverInterrupted(boss, database, queue)
          .then(() => endGivenUp(database, queue))
          .catch(error => report(error, `watching ${queue}`))
      await watch()
      watches.push(setInterval(() => void watch(), watchMs))
      const turns = new Turns()
      const serveOne = (job: PgBoss.Job<JobData>): Promise<void> =>
        turns.take(job.data.clientId)
          ? whileHeld(database, { id: job.id, report, isStopping }, () => work(job.data)).finally(() =>
              turns.giveBack(job.data.clientId),
            )
          : boss.send(queue, job.data, { ...jobOptions, startAfter: 1, priority: -1 }).then(() => undefined)
      for (let worker = 0; worker < workers; worker++)
        loops.push(serveLoop(boss, { queue, database, report, isStopping }, serveOne))
    },
    stop: async () => {
      stopping = true
      for (const watch of watches) clearInterval(watch)
      await Promise.race([Promise.all(loops), pause(5000)])
      await boss.stop({ graceful: false })
    },
  }
  jobsOf.set(database, jobs)
  return jobs
}

const jobOptions = { retryLimit, retryDelay: 1, expireInHours: 6 }

/** How many jobs of each client run in this process. */
class Turns {
  private readonly running = new Map<number, number>()

  /** False when the client has as many as it may. */
  take(client: number): boolean {
    const count = this.running.get(client) ?? 0
    if (count >= mostOfOneClient) return false
    this.running.set(client, count + 1)
    return true
  }
  giveBack(client: number): void {
    this.running.set(client, (this.running.get(client) ?? 1) - 1)
  }
}

interface Loop {
  readonly queue: QueueName
  readonly database: Database
  readonly report: Report
  readonly isStopping: () => boolean
}

// Not the package's own workers: they do not wait for what they say of a job's end, and a database that has gone by then ends the process.
const serveLoop = async (
  boss: PgBoss,
  { queue, database, report, isStopping }: Loop,
  serveOne: (job: PgBoss.Job<JobData>) => Promise<void>,
): Promise<void> => {
  while (!isStopping()) {
    let job: PgBoss.Job<JobData> | undefined
    try {
      job = (await boss.fetch<JobData>(queue))[0]
      if (job === undefined) {
        await pause(500)
        continue
      }
      await serveOne(job)
      await boss.complete(queue, job.id)
    } catch (error) {
      report(error, `a job of ${queue}`)
      if (isUnreachable(error)) await untilReachable(database, isStopping)
      // One that cannot even be said to have failed is found by its lock, which nobody holds.
      else if (job) await boss.fail(queue, job.id).catch(failure => report(failure, `a job of ${queue}`))
      await pause(200)
    }
  }
}

/** Jobs whose worker died in the middle are taken up at once, not when they expire. */
const recoverInterrupted = async (boss: PgBoss, database: Database, queue: QueueName): Promise<void> => {
  const interrupted = await database.transaction(async tx => {
    // A job that was fetched a moment ago has not taken its lock yet.
    const active = await rowsOf(
      tx,
      { id: is.text },
      sql`SELECT id::text FROM pgboss.job WHERE name = ${queue} AND state = 'active' AND started_on < now() - interval '3 seconds'`,
    )
    const free: string[] = []
    for (const { id } of active) {
      const [row] = await rowsOf(tx, { free: is.yes }, sql`SELECT pg_try_advisory_xact_lock(${lockOf(id)}) AS free`)
      if (row?.free) free.push(id)
    }
    return free
  })
  if (interrupted.length > 0) await boss.fail(queue, interrupted)
}

// Whatever ends a job, its row says so: then it can be started again. Jobs of before the log had this form are none of it.
const endGivenUp = async (database: Database, queue: QueueName): Promise<void> => {
  const rows = await rowsOf(
    database,
    { data: readJob },
    sql`
    SELECT j.data FROM pgboss.job j WHERE j.name = ${queue} AND j.state = 'failed' AND j.completed_on > now() - interval '1 day'
      AND j.data ? 'jobId'
      AND NOT EXISTS (SELECT FROM pgboss.job o WHERE o.name = j.name AND o.state < 'completed' AND o.data->>'jobId' = j.data->>'jobId')`,
  )
  for (const { data } of rows)
    await asClient(database, data, async tx => {
      const [job] = await rowsOf(
        tx,
        { state: is.text },
        sql`SELECT state FROM job WHERE client_id = current_client() AND job_id = ${data.jobId}`,
      )
      // Whoever had asked to stop it has what they asked for.
      const end = job?.state === 'cancelling' ? ({ state: 'cancelled' } as const) : brokenOff
      await endJob(tx, data.jobId, end)
    })
}

const brokenOff = {
  state: 'failed',
  message: 'It was broken off again and again. What was done until then is kept; start it again to go on from there.',
} as const

/** Jobs that wait, run, or will be taken up again; any other that was enqueued is over, whatever its row says. */
export const liveJobs = (tx: Transaction, jobIds: readonly string[]): Promise<{ jobId: string }[]> =>
  rowsOf(
    tx,
    { jobId: is.text },
    sql`SELECT DISTINCT data->>'jobId' AS "jobId" FROM pgboss.job
      WHERE state < 'completed' AND data->>'jobId' = ANY(${sql.param([...jobIds])}::text[])`,
  )
