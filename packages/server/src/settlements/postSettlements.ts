import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import {
  inKeyOrder,
  keyRows,
  type SettlementKey,
  settlementName,
  subjectOfSettlement,
  textOfKey,
} from '../activity/settlementKey.ts'
import { recordAct } from '../acts/recordAct.ts'
import { blockDoubles } from '../composing/likelyDoubles.ts'
import { recomposeProposed } from '../composing/recompose.ts'
import { markStages } from '../course/markStages.ts'
import { shiftSummary } from '../course/shiftSummary.ts'
import {
  type Actor,
  asClient,
  asClientOften,
  type Database,
  rowsOfPrepared,
  type Transaction,
} from '../database/connect.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import type { Steps } from '../jobs/runJob.ts'
import { holdDays } from '../ledger/bookingDay.ts'
import { countByFiscalYear, type NewEntry, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { carryTransfers } from './carryTransfers.ts'
import { insertTransfers, transferRows } from './postTransfers.ts'
import { digestOfReady, type NotPosted, type Prepared, prepareBatch } from './preparePosting.ts'

/** What posting came to. */
export interface PostOutcome {
  readonly posted: readonly SettlementKey[]
  readonly entries: number
  readonly notPosted: readonly NotPosted[]
  /** What was not tried any more after something went wrong in the midst: what was posted before stays posted. */
  readonly brokenOff: { readonly left: number } | null
}

const nothingYet: PostOutcome = { posted: [], entries: 0, notPosted: [], brokenOff: null }

/** Settlements per transaction: with a journal and a transfer each, below 500 entries. */
const batchSize = 200

/** Settlements up to which an act is a small one, of which there are many. */
const fewAtOnce = 10

/** After so many settlements in one act the planner's statistics of the ledger are taken anew, and after four times as many again. */
const manyPosted = 600

// A ledger that grows by thousands of entries at once is still empty to the planner: the checks of its keys went through all of them.
const refreshStatistics = (database: Database, actor: Actor): Promise<unknown> =>
  asClient(database, actor, tx => tx.execute(sql`SELECT refresh_ledger_statistics()`))

/**
 * Posts settlements: each once, whatever else runs at the same time. Asking again for what is posted changes nothing.
 * Those that cannot be posted are named with their reasons and keep nobody else from it. As a job, each batch is told of by the transaction that posts it,
 * and what breaks one off is the job's to tell.
 */
export const postSettlements = async (
  database: Database,
  actor: Actor,
  keys: readonly SettlementKey[],
  steps?: Steps<PostOutcome>,
): Promise<PostOutcome> => {
  const unique = [...new Map(keys.map(key => [textOfKey(key), key])).values()]
  let outcome = steps?.outcome ?? nothingYet
  let nextLook = manyPosted
  for (let start = steps?.start ?? 0; start < unique.length; start += batchSize) {
    const batch = unique.slice(start, start + batchSize)
    try {
      outcome = await retrying(() =>
        postBatch(database, actor, {
          keys: batch,
          bound: steps?.bound,
          tell: async (tx, posted) => {
            const now = together(outcome, posted)
            await steps?.note(tx, start + batch.length, now)
            return now
          },
        }),
      )
    } catch (error) {
      // What is done in batches says what was done; where nothing was, the error says it all.
      if (steps || outcome.posted.length === 0) throw error
      outcome = { ...outcome, brokenOff: { left: unique.length - start } }
      break
    }
    if (start + batchSize < nextLook) continue
    await refreshStatistics(database, actor)
    nextLook *= 4
  }
  const refused = outcome.notPosted.filter(one => one.reason === 'blocked').map(one => one.key)
  // What is posted is posted: whether the others say so at once changes nothing about it.
  await recomposeProposed(database, actor, refused).catch(() => undefined)
  return outcome
}

const together = (before: PostOutcome, batch: BatchOutcome): PostOutcome => ({
  posted: [...before.posted, ...batch.posted],
  entries: before.entries + batch.entries,
  notPosted: [...before.notPosted, ...batch.notPosted],
  brokenOff: null,
})

// Composing happens before any lock is taken; the writing transaction then checks that nothing it rests on has changed.
type BatchOutcome = Omit<PostOutcome, 'brokenOff'>

interface Batch<Told> {
  readonly keys: readonly SettlementKey[]
  readonly bound: Steps<unknown>['bound'] | undefined
  readonly tell: (tx: Transaction, outcome: BatchOutcome) => Promise<Told>
}

const postBatch = async <Told>(database: Database, actor: Actor, { keys, bound, tell }: Batch<Told>): Promise<Told> => {
  const run = keys.length > fewAtOnce ? asClient : asClientOften
  const prepared = await run(database, actor, tx => prepareBatch(tx, keys))
  const { notPosted, ready } = prepared
  if (bound && !ready.every(one => bound.get(textOfKey(one.loaded.key)) === digestOfReady(one)))
    throw new Refused('consent_moved')
  return run(database, actor, tx =>
    ready.length === 0
      ? tell(tx, { posted: [], entries: 0, notPosted })
      : writeBatch(tx, actor, prepared, entries =>
          tell(tx, { posted: ready.map(({ loaded }) => loaded.key), entries, notPosted }),
        ),
  )
}

const newEntries = ({ ready, days }: Prepared): NewEntry[] =>
  ready
    .flatMap(({ loaded, composed }) =>
      composed.entries.map(
        (entry): NewEntry => ({
          date: days.dayFor(entry),
          document: entry.document,
          source: loaded.key.source,
          key: loaded.key.key,
          generation: loaded.generation + 1,
          currency: entry.currency,
          payoutLine: entry.payoutLine,
          memo: settlementName(loaded.key),
          reverses: null,
          lines: entry.lines,
        }),
      ),
    )
    .sort((left, right) => (orderOf(left) < orderOf(right) ? -1 : 1))

const orderOf = (entry: NewEntry): string =>
  [entry.date, entry.key, entry.document, entry.source, entry.currency, entry.payoutLine ?? ''].join('\u0000')

const writeBatch = async <Told>(
  tx: Transaction,
  actor: Actor,
  prepared: Prepared,
  tell: (entries: number) => Promise<Told>,
): Promise<Told> => {
  const { client, ready } = prepared
  const composed = newEntries(prepared)
  const firsts = await takeNumbers(tx, countByFiscalYear(composed, client.fiscalStart))
  const entries = await carryTransfers(tx, composed, client)
  const held = await holdUnchanged(tx, prepared, entries)
  await refuseNewDoubles(tx, prepared)
  const actId = await recordAct(tx, actor, {
    sort: 'post',
    note: `${ready.length} settlements`,
    touched: ready.map(({ loaded }) => ({
      subject: 'settlement',
      key: subjectOfSettlement(loaded.key),
      before: { state: 'proposed' },
      after: { state: 'posted', generation: loaded.generation + 1 },
    })),
  })
  await insertPostings(tx, prepared, actId)
  const numbered = numberEntries(entries, firsts, client.fiscalStart)
  await writeEntries(tx, numbered, actId)
  const transfers = transferRows(numbered, prepared)
  await insertTransfers(tx, transfers)
  await markPosted(tx, prepared)
  const told = await tell(entries.length)
  const disputed = ready.some(({ loaded }) => loaded.activity.lines.some(line => line.kind === 'chargeback'))
  await moveSummary(tx, client, { held, transfers, entries: entries.length, disputed })
  return told
}

// Asked again once the number counters are held: who posts the like at the same time has done so by now, or waits.
const refuseNewDoubles = async (tx: Transaction, { client, ready }: Prepared): Promise<void> => {
  const checked = await blockDoubles(tx, client, ready)
  if (checked.some(one => one.composed.blocks.length > 0)) throw new Stale('its like was posted meanwhile')
}

// What is unmapped does not change when what was proposed is posted; whether an account is closed is counted when it is read. Other
// currencies are counted anew, since what each comes to in base is rounded once for all that waits.
const moveSummary = async (
  tx: Transaction,
  client: ClientSetup,
  {
    held,
    transfers,
    entries,
    disputed,
  }: {
    held: readonly HeldSettlement[]
    transfers: ReturnType<typeof transferRows>
    entries: number
    disputed: boolean
  },
): Promise<void> => {
  if ([...held, ...transfers].some(one => one.currency !== client.base))
    return markStages(tx, ['settlements', 'bank', 'books', 'payments', 'clearing'])
  await shiftSummary(tx, [
    {
      stage: 'settlements',
      waiting: -held.length,
      amount: -sumMinor(held, one => Math.abs(one.gross)) || 0,
      note: -held.filter(one => one.state === 'blocked').length || 0,
    },
    // A payout may be one thing to decide with a deposit that waits already: counted when it is read.
    ...(transfers.length > 0 ? [{ stage: 'bank', waiting: 0, amount: 0, note: 0, stale: true } as const] : []),
    { stage: 'books', waiting: 0, amount: 0, note: entries },
    { stage: 'clearing', waiting: 0, amount: 0, note: 0, stale: true },
    // A chargeback that is booked is disputed, and to be decided.
    ...(disputed ? [{ stage: 'payments', waiting: 0, amount: 0, note: 0, stale: true } as const] : []),
  ])
}

type HeldSettlement = SettlementKey & { readonly state: string; readonly generation: number; readonly gross: number }

/** Locks in the order that all writers keep: numbers (taken), sources, months, settlements. @throws Stale */
const holdUnchanged = async (
  tx: Transaction,
  { client, ready }: Prepared,
  entries: readonly NewEntry[],
): Promise<readonly HeldSettlement[]> => {
  const pulls = new Map(ready.map(({ loaded }) => [loaded.key.source, loaded.pullNo]))
  const sources = await rowsOfPrepared(
    tx,
    { source: is.text, last_pull: is.whole },
    sql`
    SELECT source, last_pull FROM source
    WHERE client_id = current_client() AND source = ANY(${sql.param([...pulls.keys()])}::text[]) ORDER BY source COLLATE "C" FOR SHARE`,
  )
  if (sources.some(source => pulls.get(source.source) !== source.last_pull)) throw new Stale('new activity was stored')
  // Asked once the sources are held: a statement that has waited for them still sees what stood before it waited.
  const [map] = await rowsOfPrepared(
    tx,
    { version: is.whole },
    sql`SELECT coalesce(max(version), 0) AS version FROM map_version WHERE client_id = current_client()`,
  )
  if (map?.version !== client.mapVersion) throw new Stale('the mapping was changed')
  await holdDays(tx, entries)
  const held = await rowsOfPrepared(
    tx,
    { source: is.text, key: is.text, currency: is.text, state: is.text, generation: is.whole, gross: is.minor },
    sql`
    SELECT s.source, s.key, s.currency, s.state, s.generation, s.gross
    FROM ${keyRows(ready.map(({ loaded }) => loaded.key))}
    JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
    WHERE s.client_id = current_client() ORDER BY ${inKeyOrder} FOR NO KEY UPDATE OF s`,
  )
  const generations = new Map(held.map(row => [textOfKey(row), row]))
  for (const { loaded } of ready) {
    const row = generations.get(textOfKey(loaded.key))
    if (!row || row.generation !== loaded.generation || ['posted', 'set_aside', 'elsewhere'].includes(row.state))
      throw new Stale('somebody else posted it')
  }
  return held
}

const insertPostings = (tx: Transaction, { client, ready }: Prepared, actId: string) => {
  const rows = JSON.stringify(
    ready.map(({ loaded }) => ({
      ...loaded.key,
      generation: loaded.generation + 1,
      pull_no: loaded.pullNo,
      input_hash: loaded.inputHash,
    })),
  )
  return rowsOfPrepared(
    tx,
    {},
    sql`
    INSERT INTO posting (client_id, source, key, currency, generation, act_id, map_version, pull_no, input_hash)
    SELECT current_client(), p.source, p.key, p.currency, p.generation, ${actId}, ${client.mapVersion}, p.pull_no, p.input_hash
    FROM jsonb_to_recordset(${rows}::jsonb)
      AS p(source text, key text, currency char(3), generation int, pull_no int, input_hash text)`,
  )
}

// By arrays, not JSON: the planner sees how many there are, and does not read all settlements for one.
const markPosted = (tx: Transaction, { client, ready, days }: Prepared) => {
  const last = ready.map(({ composed }) =>
    composed.entries.map(entry => days.dayFor(entry)).reduce((latest, day) => (day > latest ? day : latest), ''),
  )
  const column = (name: keyof SettlementKey) => sql.param(ready.map(({ loaded }) => loaded.key[name]))
  return rowsOfPrepared(
    tx,
    {},
    sql`
    UPDATE settlement s SET state = 'posted', generation = s.generation + 1, map_version = ${client.mapVersion}, blocks = '[]',
      settled_by = greatest(s.last_date, nullif(p.last, '')::date), corrections = 0, correction_amount = 0
    FROM unnest(${column('source')}::text[], ${column('key')}::text[], ${column('currency')}::char(3)[],
      ${sql.param(last)}::text[]) AS p(source, key, currency, last)
    WHERE s.client_id = current_client() AND s.source = p.source AND s.key = p.key AND s.currency = p.currency`,
  )
}
