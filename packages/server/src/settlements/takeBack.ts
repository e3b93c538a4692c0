import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import {
  holdSettlements,
  keyRows,
  type SettlementKey,
  subjectOfSettlement,
  textOfKey,
} from '../activity/settlementKey.ts'
import { recordAct } from '../acts/recordAct.ts'
import { recompose, recomposeHeldBy } from '../composing/recompose.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources, inTransferOrder } from '../database/locks.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import type { Steps } from '../jobs/runJob.ts'
import { holdDays } from '../ledger/bookingDay.ts'
import { countByFiscalYear, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import { type Prepared, prepare, type TakeBackOutcome } from './prepareReversal.ts'

type BatchOutcome = Omit<TakeBackOutcome, 'brokenOff'>

const batchSize = 200

const nothingYet: TakeBackOutcome = { takenBack: [], entries: 0, refused: [], brokenOff: null }

/**
 * Takes posted settlements back: mirror entries, nothing deleted; they are proposed, or blocked, again. As a job, each batch is told of by its own
 * transaction, and what breaks one off is the job's to tell.
 */
export const takeBack = async (
  database: Database,
  actor: Actor,
  keys: readonly SettlementKey[],
  steps?: Steps<TakeBackOutcome>,
): Promise<TakeBackOutcome> => {
  const unique = [...new Map(keys.map(key => [textOfKey(key), key])).values()]
  let outcome = steps?.outcome ?? nothingYet
  for (let start = steps?.start ?? 0; start < unique.length; start += batchSize) {
    const batch = unique.slice(start, start + batchSize)
    try {
      outcome = await retrying(() =>
        takeBackBatch(database, actor, {
          keys: batch,
          bound: steps?.bound,
          tell: async (tx, done) => {
            const now = together(outcome, done)
            await steps?.note(tx, start + batch.length, now)
            return now
          },
        }),
      )
    } catch (error) {
      if (steps || outcome.takenBack.length === 0) throw error
      outcome = { ...outcome, brokenOff: { left: unique.length - start } }
      break
    }
  }
  // What was held up as the double of what is now taken back is none any more.
  if (outcome.takenBack.length > 0) await recomposeHeldBy(database, actor, 'likely_double')
  return outcome
}

const together = (before: TakeBackOutcome, batch: BatchOutcome): TakeBackOutcome => ({
  takenBack: [...before.takenBack, ...batch.takenBack],
  entries: before.entries + batch.entries,
  refused: [...before.refused, ...batch.refused],
  brokenOff: null,
})

interface Batch<Told> {
  readonly keys: readonly SettlementKey[]
  readonly bound: Steps<unknown>['bound'] | undefined
  readonly tell: (tx: Transaction, outcome: BatchOutcome) => Promise<Told>
}

const takeBackBatch = async <Told>(
  database: Database,
  actor: Actor,
  { keys, bound, tell }: Batch<Told>,
): Promise<Told> => {
  const prepared = await asClient(database, actor, tx => prepare(tx, keys))
  if (bound && !prepared.ready.every(one => bound.get(textOfKey(one)) === String(one.generation)))
    throw new Refused('consent_moved')
  const outcome = { takenBack: prepared.ready, entries: prepared.reversals.length, refused: prepared.refused }
  return asClient(database, actor, tx =>
    prepared.ready.length === 0 ? tell(tx, outcome) : reverse(tx, actor, prepared, () => tell(tx, outcome)),
  )
}

const reverse = async <Told>(
  tx: Transaction,
  actor: Actor,
  { client, ready, reversals }: Prepared,
  tell: () => Promise<Told>,
): Promise<Told> => {
  const firsts = await takeNumbers(tx, countByFiscalYear(reversals, client.fiscalStart))
  await holdSources(
    tx,
    ready.map(key => key.source),
    'read',
  )
  await holdDays(tx, reversals)
  await holdPosted(tx, ready)
  const actId = await recordAct(tx, actor, {
    sort: 'take_back',
    note: `${ready.length} settlements`,
    touched: ready.map(key => ({
      subject: 'settlement',
      key: subjectOfSettlement(key),
      before: { state: 'posted', generation: key.generation },
      after: { state: 'proposed' },
    })),
  })
  const rows = JSON.stringify(ready)
  await tx.execute(sql`
    INSERT INTO reversal (client_id, source, key, currency, generation, act_id)
    SELECT current_client(), r.source, r.key, r.currency, r.generation, ${actId}
    FROM jsonb_to_recordset(${rows}::jsonb) AS r(source text, key text, currency char(3), generation int)`)
  await writeEntries(tx, numberEntries(reversals, firsts, client.fiscalStart), actId)
  await tx.execute(sql`
    UPDATE transfer t SET reversed = true
    FROM jsonb_to_recordset(${rows}::jsonb) AS r(source text, key text, currency char(3), generation int)
    WHERE t.client_id = current_client() AND t.source = r.source AND t.key = r.key AND t.currency = r.currency
      AND t.generation = r.generation`)
  await tx.execute(sql`
    UPDATE settlement s SET state = 'proposed', settled_by = NULL, corrections = 0, correction_amount = 0
    FROM jsonb_to_recordset(${rows}::jsonb) AS r(source text, key text, currency char(3))
    WHERE s.client_id = current_client() AND s.source = r.source AND s.key = r.key AND s.currency = r.currency`)
  await recompose(tx, ready)
  const told = await tell()
  await markStages(tx, ['settlements', 'mapping', 'payments', 'bank', 'clearing', 'books'])
  return told
}

const holdPosted = async (tx: Transaction, ready: Prepared['ready']): Promise<void> => {
  const held = await holdSettlements(tx, ready)
  const byKey = new Map(held.map(row => [textOfKey(row), row]))
  for (const key of ready) {
    const row = byKey.get(textOfKey(key))
    if (row?.state !== 'posted' || row.generation !== key.generation) throw new Stale('it was taken back already')
  }
  const transfers = await rowsOf(
    tx,
    { paired: is.yes },
    sql`
    SELECT t.paired FROM ${keyRows(ready)} JOIN transfer t ON t.source = k.source AND t.key = k.key AND t.currency = k.currency
    WHERE t.client_id = current_client() AND NOT t.reversed
    ORDER BY ${inTransferOrder} FOR NO KEY UPDATE OF t`,
  )
  if (transfers.some(transfer => transfer.paired)) throw new Stale('its deposit was confirmed')
}
