import { sql } from 'drizzle-orm'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'

export type PullSort = 'pull' | 'upload' | 'statement' | 'bank_pull'

export interface PullCounts {
  readonly added: number
  readonly revised: number
  readonly same: number
}

/** Notes in the pull log that something begins. */
export const beginPull = (
  tx: Transaction,
  actor: Actor,
  pull: { pullId: string; sort: PullSort; source: string; state: 'waiting' | 'running'; message: string },
) =>
  tx.execute(sql`INSERT INTO pull (client_id, pull_id, sort, source, state, "by", message)
    VALUES (current_client(), ${pull.pullId}, ${pull.sort}, ${pull.source}, ${pull.state}, ${actor.userId}, ${pull.message})`)

/** Notes how far it is; false when somebody has asked to cancel it. */
export const notePullProgress = (
  database: Database,
  actor: Actor,
  progress: { pullId: string; done: number; total: number | null },
): Promise<boolean> =>
  asClient(database, actor, async tx => {
    const { rows } = await tx.execute(sql`
      UPDATE pull SET done = ${progress.done}, total = ${progress.total}, state = CASE WHEN state = 'waiting' THEN 'running' ELSE state END
      WHERE client_id = current_client() AND pull_id = ${progress.pullId} RETURNING state`)
    return rows[0]?.state === 'running'
  })

export const endPull = (
  tx: Transaction,
  pullId: string,
  end: { state: 'done' | 'failed' | 'cancelled'; message: string; counts?: PullCounts },
) =>
  tx.execute(sql`UPDATE pull SET state = ${end.state}, ended_at = now(), message = ${end.message},
      added = ${end.counts?.added ?? 0}, revised = ${end.counts?.revised ?? 0}, same = ${end.counts?.same ?? 0}
    WHERE client_id = current_client() AND pull_id = ${pullId} AND state IN ('waiting', 'running', 'cancelling')`)
