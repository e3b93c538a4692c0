import { expectedText } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { type Actor, asClient, type Database, oneRow } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { tieOut } from '../payments/tieOut.ts'
import { loadSetup } from '../settlements/loadSetup.ts'
import { recomposeOutdated } from '../settlements/recompose.ts'
import { FileRefused } from './fileRefused.ts'
import { importBalances } from './importBalances.ts'
import { importHeads } from './importHeads.ts'
import { endPull, notePullProgress } from './pullLog.ts'
import { type ActivityPage, credentialsSchema, httpSourceClient, type SourceClient } from './sourceClient.ts'
import { copyRecord } from './stageActivity.ts'
import { markPulledTo, openStore, settleTouched } from './storeActivity.ts'

/** Lines that are stored, with the place to go on from, in one transaction. */
const linesPerStep = 2000

/**
 * Pulls what is new at a source. Every step stores whole pages together with the cursor, so that a pull that ends
 * anywhere goes on from its last step, and a cancel leaves nothing half done.
 */
export const pullSource = async (
  database: Database,
  actor: Actor,
  job: { pullId: string; source: string },
): Promise<void> => {
  const counts = { added: 0, revised: 0, same: 0 }
  try {
    const { client, cursor } = await connectTo(database, actor, job.source)
    await pullHeads(database, actor, job.source, client)
    const finished = await pullActivity(database, actor, { ...job, client, cursor, counts })
    await retrying(() => asClient(database, actor, tx => tieOut(tx)))
    await recomposeOutdated(database, actor)
    await asClient(database, actor, async tx => {
      await importBalances(tx, job.source, await client.balances())
      await endPull(tx, job.pullId, { state: finished ? 'done' : 'cancelled', message: '', counts })
      await refreshSummary(tx, ['sources', 'clearing'])
    })
  } catch (error) {
    await asClient(database, actor, async tx => {
      await endPull(tx, job.pullId, { state: 'failed', message: messageOf(error), counts })
      await refreshSummary(tx, ['sources'])
    })
  }
}

const messageOf = (error: unknown): string => {
  if (error instanceof FileRefused) {
    const [first] = error.faults
    return first
      ? `line ${first.row} of a page, ${first.column}: “${first.value}”, expected ${expectedText(first)}`
      : error.message
  }
  return error instanceof Error ? error.message : 'failed'
}

const connectTo = (database: Database, actor: Actor, source: string) =>
  asClient(database, actor, async tx => {
    const row = await oneRow<{ address: string | null; credentials: unknown; cursor: string | null }>(
      tx,
      sql`
      SELECT address, credentials, cursor FROM source WHERE client_id = current_client() AND source = ${source}`,
    )
    if (row.address === null) throw new Error(`${source} is not connected; its activity comes as files`)
    return {
      client: httpSourceClient(source, row.address, credentialsSchema.parse(row.credentials)),
      cursor: row.cursor,
    }
  })

const pullHeads = async (database: Database, actor: Actor, source: string, client: SourceClient): Promise<void> => {
  const heads = await client.settlements()
  await retrying(() =>
    asClient(database, actor, async tx => {
      await holdSources(tx, [source], 'store')
      await settleTouched(tx, (await importHeads(tx, source, heads)).touched)
    }),
  )
}

const pullActivity = async (
  database: Database,
  actor: Actor,
  pull: {
    pullId: string
    source: string
    client: SourceClient
    cursor: string | null
    counts: { added: number; revised: number; same: number }
  },
): Promise<boolean> => {
  let { cursor } = pull
  let done = 0
  let total: number | null = null
  for (;;) {
    const pages: ActivityPage[] = []
    let next: string | null = cursor
    let lines = 0
    do {
      const page: ActivityPage = await pull.client.activity(next)
      pages.push(page)
      lines += page.lines.length
      next = page.next
      total ??= page.remaining
    } while (next !== null && lines < linesPerStep)
    cursor = pages.at(-1)?.cursor ?? cursor
    await storeStep(database, actor, { ...pull, pages, cursor })
    done += lines
    const wanted = await notePullProgress(database, actor, {
      pullId: pull.pullId,
      done,
      total: total === null ? null : Math.max(total, done),
    })
    if (!wanted) return false
    if (next === null) return true
  }
}

const storeStep = async (
  database: Database,
  actor: Actor,
  step: {
    source: string
    pages: readonly ActivityPage[]
    cursor: string | null
    counts: { added: number; revised: number; same: number }
  },
): Promise<void> => {
  // A page may come twice, or a line again further on: the later one counts.
  const lines = new Map(step.pages.flatMap(page => page.lines).map(line => [line.lineId, line]))
  const merged = await retrying(() =>
    asClient(database, actor, async tx => {
      const client = await loadSetup(tx)
      const store = openStore(tx, step.source)
      for (const line of lines.values()) await store.add(copyRecord(line, client.zone, client.cutOff))
      const stored = await store.finish()
      await markPulledTo(tx, step.source, step.cursor)
      return stored
    }),
  )
  step.counts.added += merged.added
  step.counts.revised += merged.revised
  step.counts.same += merged.same
}
