import { sql } from 'drizzle-orm'
import type { Database, Report } from '../database/connect.ts'
import { isUnreachable, untilReachable } from '../database/reachable.ts'

/** The number of the lock that says that somebody works on a job. */
export const lockOf = (jobId: string) => sql`hashtextextended(${jobId}, 0)`

interface Held {
  readonly id: string
  readonly report: Report
  readonly isStopping: () => boolean
}

/**
 * Works while a lock says that somebody does: it lives as long as the worker's connection, and whoever can take it knows that the worker is gone.
 * A database that does not answer is waited for, and the work begun again where it was broken off, unless another has taken it up by then.
 */
export const whileHeld = async (database: Database, held: Held, work: () => Promise<void>): Promise<void> => {
  for (;;) {
    try {
      await holding(database, held.id, work)
      return
    } catch (error) {
      if (!isUnreachable(error) || held.isStopping()) throw error
      held.report(error, `job ${held.id} waits for the database`)
      await untilReachable(database, held.isStopping)
      if (held.isStopping()) throw error
    }
  }
}

const holding = async (database: Database, jobId: string, work: () => Promise<void>): Promise<void> => {
  const connection = await database.$client.connect()
  let broken: Error | undefined
  const note = (error: Error): void => {
    broken = error
  }
  connection.on('error', note)
  try {
    const { rows } = await connection.query<{ held: boolean }>(
      'SELECT pg_try_advisory_lock(hashtextextended($1, 0)) AS held',
      [jobId],
    )
    if (rows[0]?.held) await work()
  } finally {
    await connection.query('SELECT pg_advisory_unlock_all()').catch(note)
    connection.off('error', note)
    connection.release(broken)
  }
}
