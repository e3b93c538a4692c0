import { expectedText } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { FileRefused } from '../access/fileRefused.ts'
import { type CountsBy, countsBy, countsByShape } from '../activity/countsBy.ts'
import { importBalances } from '../activity/importBalances.ts'
import { importHeads } from '../activity/importHeads.ts'
import { follow } from '../composing/follow.ts'
import { recomposeHeldBy } from '../composing/recompose.ts'
import { settleMarked } from '../composing/settleMarked.ts'
import { markPulledTo, openStore, settleTouched } from '../composing/storeActivity.ts'
import { tieOut } from '../composing/tieOut.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { isUnreachable } from '../database/reachable.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { ServiceUnreachable } from '../grants/outsideService.ts'
import { openGrant } from '../grants/sealGrant.ts'
import { serviceNamed } from '../grants/services.ts'
import { splitShopKey } from '../grants/shops.ts'
import { tokenSource } from '../grants/tokenSource.ts'
import type { JobData } from '../jobs/boss.ts'
import { endJob, JobCancelled, takeUpJob, tellProgress, untilCancelled } from '../jobs/jobLog.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { type ActivityPage, httpSourceClient, type SourceClient } from './sourceClient.ts'

/** Lines that are stored, with the place to go on from, in one transaction. */
const linesPerStep = 2000

/**
 * Pulls what is new at a source. Every step stores whole pages together with the cursor, so that a pull that ends
 * anywhere goes on from its last step, and a cancel leaves nothing half done. A database that goes away is the caller's to wait for.
 */
export const pullSource = async (database: Database, data: JobData): Promise<void> => {
  const { jobId, ...actor } = data
  const taken = await takeUpJob(database, actor, jobId)
  if (!taken) return
  const counts = { added: 0, revised: 0, same: 0 }
  try {
    await untilCancelled(database, actor, { jobId }, signal =>
      pull(database, actor, { jobId, source: taken.subject, counts, signal }),
    )
  } catch (error) {
    if (isUnreachable(error)) throw error
    await retrying(() =>
      asClient(database, actor, async tx => {
        const cancelled = error instanceof JobCancelled
        await endJob(tx, jobId, {
          state: cancelled ? 'cancelled' : 'failed',
          message: cancelled ? '' : messageOf(error),
          outcome: counts,
        })
        await markStages(tx, ['sources'])
      }),
    )
    // What came in until then is kept, and is brought up to date; its row says by now how it ended.
    await settleMarked(database, actor)
  }
}

interface Pull {
  readonly jobId: string
  readonly source: string
  readonly counts: { added: number; revised: number; same: number }
  readonly signal: AbortSignal
}

const pull = async (database: Database, actor: Actor, job: Pull): Promise<void> => {
  const { client, cursor, now, by } = await connectTo(database, actor, job)
  await pullHeads(database, actor, job.source, client)
  await pullActivity(database, actor, { ...job, client, cursor, by })
  await settleMarked(database, actor)
  await retrying(() => asClient(database, actor, tx => tieOut(tx)))
  const balances = await client.balances()
  await retrying(() =>
    asClient(database, actor, async tx => {
      await holdSources(tx, [job.source], 'store')
      await importBalances(tx, job.source, balances)
      // Asked up to the moment at which it began, however quiet the source was.
      await tx.execute(sql`UPDATE source SET read_to = greatest(read_to, ${now}::timestamptz)
        WHERE client_id = current_client() AND source = ${job.source}`)
      await endJob(tx, job.jobId, { state: 'done', message: '', outcome: job.counts })
      await markStages(tx, ['sources', 'clearing'])
    }),
  )
  await recomposeHeldBy(database, actor, 'awaits_channel')
  await follow(database, actor)
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

const connectTo = async (database: Database, actor: Actor, { source, signal }: Pull) => {
  const row = await asClient(database, actor, tx =>
    oneRow(
      tx,
      {
        address: is.maybe(is.text),
        credentials: is.anything,
        grantId: is.maybe(is.text),
        shop: is.maybe(is.text),
        granted: is.maybe(is.list(is.text)),
        cursor: is.maybe(is.text),
        options: is.record(countsByShape),
        now: is.text,
      },
      sql`SELECT s.address, s.credentials, s.grant_id AS "grantId", s.shop, g.granted, s.cursor, s.options, clock_now()::text AS now
        FROM source s LEFT JOIN service_grant g USING (client_id, grant_id) WHERE s.client_id = current_client() AND s.source = ${source}`,
    ),
  )
  const by = countsBy(row.options)
  const client = httpSourceClient(
    source,
    { ...reachedAt(database, actor, source, row), dateBasis: by.dateBasis },
    signal,
  )
  return { client, cursor: row.cursor, now: row.now, by }
}

// By what a service granted for one of its shops, or by a key that it gave.
const reachedAt = (
  database: Database,
  actor: Actor,
  source: string,
  row: {
    readonly address: string | null
    readonly credentials: unknown
    readonly grantId: string | null
    readonly shop: string | null
    readonly granted: readonly string[] | null
  },
) => {
  if (row.grantId !== null && row.shop !== null) {
    const [service = '', shop = ''] = splitShopKey(row.shop)
    return {
      address: `${serviceNamed(service).address}/shops/${encodeURIComponent(shop)}`,
      access: tokenSource(database, actor, row.grantId),
      lists: new Set(row.granted),
    }
  }
  if (row.address === null) throw new Error(`${source} is not connected; its activity comes as files`)
  return {
    address: row.address,
    access: openGrant(row.credentials, { of: 'source', clientId: actor.clientId, key: source }),
  }
}

const pullHeads = async (database: Database, actor: Actor, source: string, client: SourceClient): Promise<void> => {
  const heads = await client.settlements()
  await retrying(() =>
    asClient(database, actor, async tx => {
      await holdSources(tx, [source], 'store')
      await settleTouched(tx, (await importHeads(tx, source, heads)).touched)
    }),
  )
}

/** Pages that bring nothing and lead nowhere new, one after another, after which a source is no longer asked. */
const mostIdlePages = 20

const pullActivity = async (
  database: Database,
  actor: Actor,
  pull: Pull & { readonly client: SourceClient; readonly cursor: string | null; readonly by: CountsBy },
): Promise<void> => {
  let { cursor } = pull
  let done = 0
  let total: number | null = null
  let idle = 0
  for (;;) {
    const pages: ActivityPage[] = []
    let next: string | null = cursor
    let lines = 0
    do {
      const page: ActivityPage = await pull.client.activity(next)
      idle = page.lines.length === 0 || page.next === next ? idle + 1 : 0
      pages.push(page)
      lines += page.lines.length
      next = page.next
      total ??= page.remaining
    } while (next !== null && lines < linesPerStep && idle < mostIdlePages)
    cursor = pages.at(-1)?.cursor ?? cursor
    await storeStep(database, actor, { ...pull, pages, cursor })
    done += lines
    await tellProgress(database, actor, pull.jobId, { done, total: total === null ? null : Math.max(total, done) })
    if (next === null) return
    if (idle >= mostIdlePages)
      throw new ServiceUnreachable(`${pull.source} sends page after page with nothing new; what came before is kept`)
  }
}

const storeStep = async (
  database: Database,
  actor: Actor,
  step: {
    source: string
    pages: readonly ActivityPage[]
    cursor: string | null
    by: CountsBy
    counts: { added: number; revised: number; same: number }
  },
): Promise<void> => {
  // A page may come twice, or a line again further on: the later one counts.
  const lines = new Map(step.pages.flatMap(page => page.lines).map(line => [line.lineId, line]))
  const merged = await retrying(() =>
    asClient(database, actor, async tx => {
      const client = await loadSetup(tx)
      const store = openStore(tx, { source: step.source, by: step.by, client })
      for (const line of lines.values()) await store.add(line)
      const stored = await store.finish('later')
      await markPulledTo(tx, step.source, step.cursor)
      return stored
    }),
  )
  step.counts.added += merged.added
  step.counts.revised += merged.revised
  step.counts.same += merged.same
}
