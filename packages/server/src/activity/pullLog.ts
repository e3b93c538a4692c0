import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

export type PullSort = 'pull' | 'upload' | 'statement' | 'bank_pull'

export interface PullCounts {
  readonly added: number
  readonly revised: number
  readonly same: number
}

/** Somebody has cancelled the pull: no fault. */
export class PullCancelled extends Error {
  override readonly name = 'PullCancelled'
}

/** Notes in the pull log that something begins. */
export const beginPull = (
  tx: Transaction,
  actor: Actor,
  pull: { pullId: string; sort: PullSort; source: string; state: 'waiting' | 'running'; message: string },
) =>
  tx.execute(sql`INSERT INTO pull (client_id, pull_id, sort, source, state, "by", message, started_at)
    VALUES (current_client(), ${pull.pullId}, ${pull.sort}, ${pull.source}, ${pull.state}, ${actor.userId}, ${pull.message}, clock_now())`)

/** Takes up a pull that waits, or that another worker left; false when it is over, whatever ended it. */
export const takeUpPull = (database: Database, actor: Actor, pullId: string): Promise<boolean> =>
  asClient(database, actor, async tx => {
    await tx.execute(sql`UPDATE pull SET state = 'cancelled', ended_at = clock_now()
      WHERE client_id = current_client() AND pull_id = ${pullId} AND state = 'cancelling'`)
    const rows = await rowsOf(
      tx,
      {},
      sql`UPDATE pull SET state = 'running' WHERE client_id = current_client() AND pull_id = ${pullId} AND state IN ('waiting', 'running')
        RETURNING pull_id`,
    )
    return rows.length > 0
  })

const lookEveryMs = 700

/** Works with a signal that aborts, with `PullCancelled`, soon after somebody has asked to cancel the pull. */
export const untilCancelled = async <Result>(
  database: Database,
  actor: Actor,
  pullId: string,
  work: (signal: AbortSignal) => Promise<Result>,
): Promise<Result> => {
  const controller = new AbortController()
  let over = false
  const look = async (): Promise<void> => {
    while (!over) {
      await pause(lookEveryMs)
      const [row] = await asClient(database, actor, tx =>
        rowsOf(
          tx,
          { state: is.text },
          sql`SELECT state FROM pull WHERE client_id = current_client() AND pull_id = ${pullId}`,
        ),
      ).catch(() => [])
      if (row?.state === 'cancelling') controller.abort(new PullCancelled('cancelled'))
    }
  }
  void look()
  try {
    return await work(controller.signal)
  } finally {
    over = true
  }
}

/** Notes how far it is. @throws PullCancelled when somebody has asked to cancel it */
export const notePullProgress = (
  database: Database,
  actor: Actor,
  progress: { pullId: string; done: number; total: number | null },
): Promise<void> =>
  asClient(database, actor, async tx => {
    const [row] = await rowsOf(
      tx,
      { state: is.text },
      sql`UPDATE pull SET done = ${progress.done}, total = ${progress.total}
        WHERE client_id = current_client() AND pull_id = ${progress.pullId} RETURNING state`,
    )
    if (row?.state !== 'running') throw new PullCancelled('cancelled')
  })

export const endPull = (
  tx: Transaction,
  pullId: string,
  end: { state: 'done' | 'failed' | 'cancelled'; message: string; counts?: PullCounts },
) =>
  tx.execute(sql`UPDATE pull SET state = ${end.state}, ended_at = clock_now(), message = ${end.message.slice(0, 2000)},
      added = ${end.counts?.added ?? 0}, revised = ${end.counts?.revised ?? 0}, same = ${end.counts?.same ?? 0}
    WHERE client_id = current_client() AND pull_id = ${pullId} AND state IN ('waiting', 'running', 'cancelling')`)

/** Says of an entry that it was refused, after everything else of it is undone. */
export const noteRefusal = (
  database: Database,
  actor: Actor,
  refused: { readonly pullId: string; readonly name: string; readonly error: unknown },
): Promise<void> =>
  asClient(database, actor, async tx => {
    const said =
      refused.error instanceof Error && refused.error.name.endsWith('Refused')
        ? refused.error.message
        : 'it could not be stored'
    await endPull(tx, refused.pullId, { state: 'failed', message: `${refused.name}: ${said}` })
    await markStages(tx, ['sources'])
  }).catch(() => undefined)
