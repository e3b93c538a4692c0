import { sql } from 'drizzle-orm'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { jobsOn } from '../jobs/boss.ts'
import type { JobWork } from '../jobs/runJob.ts'
import { startJob } from '../jobs/startJob.ts'
import { follow } from './follow.ts'

/** Lines of settlements that are not posted, up to which a save composes anew before it answers: a second's work. Above it is a job. */
const mostAtOnce = 30_000

/**
 * Leaves it to a job to compose anew what the transaction makes out of date, where that is much; false: it is little, and the caller's to follow. One that
 * waits still does it for all who saved until it is taken up.
 */
export const composeLater = async (tx: Transaction, database: Database, actor: Actor): Promise<boolean> => {
  const jobs = jobsOn(database)
  if (!jobs) return false
  const open = await oneRow(
    tx,
    { settlements: is.whole, lines: is.whole },
    sql`SELECT count(*)::int AS settlements, coalesce(sum(lines), 0)::bigint AS lines FROM settlement
      WHERE client_id = current_client() AND state IN ('blocked', 'proposed', 'set_aside', 'elsewhere')`,
  )
  if (open.lines <= mostAtOnce) return false
  // Held, so that it is not taken up before what this transaction saves can be seen.
  const waiting = await rowsOf(
    tx,
    {},
    sql`SELECT FROM job WHERE client_id = current_client() AND sort = 'compose' AND state = 'waiting' FOR UPDATE`,
  )
  if (waiting.length === 0) await startJob(tx, jobs, actor, { sort: 'compose', subject: '', total: open.settlements })
  return true
}

/** Composes anew, as a job, whatever is out of date by then. */
export const composeAnew: JobWork = async (database, actor, { progress }) => {
  const { left } = await asClient(database, actor, tx =>
    oneRow(
      tx,
      { left: is.whole },
      sql`SELECT count(*)::int AS left FROM settlement s JOIN client c ON c.client_id = s.client_id
        WHERE s.client_id = current_client() AND s.state IN ('blocked', 'proposed', 'set_aside', 'elsewhere') AND s.map_version <> c.setup_version`,
    ),
  )
  progress.total = progress.done + left
  await follow(database, actor, composed => {
    progress.done += composed
  })
  return { composed: progress.done }
}
