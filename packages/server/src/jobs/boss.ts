import { sql } from 'drizzle-orm'
import PgBoss from 'pg-boss'
import { type Actor, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import type { QueueName } from './queues.ts'

/** What a job carries: who asked for it, for which client, and the entry of the pull log it reports to. */
export interface JobData extends Actor {
  readonly pullId: string
  readonly source: string
}

export interface Jobs {
  /** Enqueues in the caller's transaction: no job for what was rolled back. */
  enqueue(tx: Transaction, queue: QueueName, data: JobData): Promise<void>
  /** Starts serving a queue with `work`. */
  serve(queue: QueueName, work: (data: JobData) => Promise<void>): Promise<void>
  stop(): Promise<void>
}

/** Connects to the job queues, which the owner has made. */
export const startJobs = async (url: string, database: Database): Promise<Jobs> => {
  const boss = new PgBoss({ connectionString: url, migrate: false, max: 4, schedule: false })
  boss.on('error', () => undefined)
  await boss.start()
  return {
    enqueue: async (tx, queue, data) => {
      const db = { executeSql: (text: string, values: unknown[]) => tx.$client.query(text, values) }
      await boss.send(queue, data, { db, retryLimit: 5, retryDelay: 1, expireInHours: 6 })
    },
    serve: async (queue, work) => {
      await recoverInterrupted(boss, database, queue)
      await boss.work<JobData>(queue, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async jobs => {
        for (const job of jobs) await whileHeld(database, job.id, () => work(job.data))
      })
    },
    stop: () => boss.stop({ graceful: true, timeout: 5000 }),
  }
}

const lockOf = (jobId: string) => sql`hashtextextended(${jobId}, 0)`

// The lock lives as long as the worker's connection: whoever can take it knows that the worker is gone.
const whileHeld = async (database: Database, jobId: string, work: () => Promise<void>): Promise<void> => {
  const connection = await database.$client.connect()
  connection.on('error', () => undefined)
  try {
    await connection.query('SELECT pg_advisory_lock(hashtextextended($1, 0))', [jobId])
    await work()
  } finally {
    await connection.query('SELECT pg_advisory_unlock_all()').catch(() => undefined)
    connection.release()
  }
}

/** Jobs whose worker died in the middle are taken up at once, not when they expire. */
const recoverInterrupted = async (boss: PgBoss, database: Database, queue: QueueName): Promise<void> => {
  const interrupted = await database.transaction(async tx => {
    const bound = tx as unknown as Transaction
    const active = await rowsOf<{ id: string }>(
      bound,
      sql`SELECT id::text FROM pgboss.job WHERE name = ${queue} AND state = 'active'`,
    )
    const free: string[] = []
    for (const { id } of active) {
      const [row] = await rowsOf<{ free: boolean }>(bound, sql`SELECT pg_try_advisory_xact_lock(${lockOf(id)}) AS free`)
      if (row?.free) free.push(id)
    }
    return free
  })
  if (interrupted.length > 0) await boss.fail(queue, interrupted)
}
