import { composeCorrection, composeSettlement } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { keyRows, type SettlementKey, settlementName, subjectOfSettlement } from '../activity/settlementKey.ts'
import { recordAct } from '../acts/recordAct.ts'
import { loadActivity } from '../composing/loadActivity.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdDays, loadBookingDays } from '../ledger/bookingDay.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { countByFiscalYear, type NewEntry, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import { loadSetup } from '../setup/loadSetup.ts'

export type CorrectionOutcome =
  | { readonly ok: true; readonly entries: number }
  /** `payout`: a payout itself changed, so the settlement is to be taken back and posted again. */
  | { readonly ok: false; readonly reason: 'not_posted' | 'nothing_to_correct' | 'blocked' | 'payout' }

/**
 * Books what revised lines change in a posted settlement: the entries it would have today, under the mapping it was
 * posted with, less what it has. Dated like the journal that it corrects, the last where there are several, or the first
 * open day if that month is locked or its tax period filed.
 */
export const bookCorrection = (
  database: Database,
  actor: Actor,
  key: SettlementKey,
  consent?: Consent,
): Promise<CorrectionOutcome> => retrying(() => asClient(database, actor, tx => correct(tx, actor, { key, consent })))

/** That somebody consented to: what the correction was made of, and what says so in the transaction that books it. */
interface Consent {
  readonly seen: string
  readonly mark: (tx: Transaction) => Promise<void>
}

/** What a correction is made of, as it stands: of which posting, up to which pull, of which lines; null where there is nothing to correct. */
export const seeCorrection = async (tx: Transaction, key: SettlementKey): Promise<string | null> => {
  const found = await loadToCorrect(tx, key)
  return found.ok ? found.seen : null
}

const loadToCorrect = async (tx: Transaction, key: SettlementKey) => {
  const [posted] = await rowsOf(
    tx,
    {
      generation: is.whole,
      map_version: is.whole,
      state: is.text,
      corrections: is.whole,
      booked_on: is.maybe(is.text),
    },
    sql`
    SELECT s.generation, p.map_version, s.state, s.corrections,
      (SELECT max(e.date)::text FROM entry e WHERE e.client_id = s.client_id AND e.source = s.source AND e.key = s.key
        AND e.currency = s.currency AND e.generation = s.generation AND e.document = 'journal') AS booked_on
    FROM ${keyRows([key])} JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
    JOIN posting p ON p.source = s.source AND p.key = s.key AND p.currency = s.currency AND p.generation = s.generation
    WHERE s.client_id = current_client()`,
  )
  if (posted?.state !== 'posted') return { ok: false, reason: 'not_posted' } as const
  if (posted.corrections === 0) return { ok: false, reason: 'nothing_to_correct' } as const
  const client = await loadSetup(tx, posted.map_version)
  const [loaded] = await loadActivity(tx, client, { keys: [key] })
  if (!loaded) return { ok: false, reason: 'not_posted' } as const
  const composed = composeSettlement(loaded.activity, client.setup)
  if (composed.blocks.length > 0) return { ok: false, reason: 'blocked' } as const
  const payouts = await rowsOf(
    tx,
    { payout_line: is.text, amount: is.minor },
    sql`
    SELECT t.payout_line, t.amount FROM transfer t WHERE t.source = ${key.source} AND t.key = ${key.key}
      AND t.currency = ${key.currency} AND t.generation = ${posted.generation}`,
  )
  const booked = new Map(payouts.map(row => [row.payout_line, row.amount]))
  const current = loaded.activity.payouts.filter(payout => payout.amount !== 0)
  if (current.length !== booked.size || current.some(payout => booked.get(payout.lineId) !== -payout.amount))
    return { ok: false, reason: 'payout' } as const
  const seen = `${posted.generation} ${loaded.pullNo} ${loaded.inputHash}`
  return { ok: true, posted, client, loaded, composed, seen } as const
}

const correct = async (
  tx: Transaction,
  actor: Actor,
  { key, consent }: { readonly key: SettlementKey; readonly consent: Consent | undefined },
): Promise<CorrectionOutcome> => {
  const found = await loadToCorrect(tx, key)
  if (!found.ok) return found
  const { posted, client, loaded, composed, seen } = found
  if (consent && consent.seen !== seen) throw new Refused('consent_moved')
  const before = await bookedLines(tx, key, posted.generation)
  // A settlement of payouts alone had no journal: what it corrects is what it would have now.
  const journals = composed.entries.filter(one => one.document === 'journal').map(one => one.date)
  // Lines that come to nothing have no journal, then or now: that they were looked at is written down all the same.
  const wanted = posted.booked_on ?? journals.sort().at(-1) ?? loaded.activity.lastDate ?? loaded.activity.day
  const day = wanted ?? ''
  const { lines } = composeCorrection(composed.entries, before, { date: day, currency: key.currency }) ?? { lines: [] }
  const date = wanted === null ? '' : (await loadBookingDays(tx)).dayFor({ date: day, lines })
  const entry: NewEntry = {
    date,
    document: 'correction',
    source: key.source,
    key: key.key,
    generation: posted.generation,
    currency: key.currency,
    payoutLine: null,
    memo: `correction of ${settlementName(key)}`,
    reverses: null,
    lines,
  }
  const entries = lines.length > 0 ? [entry] : []
  const firsts = await takeNumbers(tx, countByFiscalYear(entries, client.fiscalStart))
  await holdUnchanged(tx, key, {
    pullNo: loaded.pullNo,
    generation: posted.generation,
    entries,
  })
  const actId = await recordAct(tx, actor, {
    sort: 'book_correction',
    note: settlementName(key),
    touched: [
      {
        subject: 'settlement',
        key: subjectOfSettlement(key),
        after: { correction: loaded.pullNo, entries: entries.length, date },
      },
    ],
  })
  await tx.execute(sql`INSERT INTO correction (client_id, source, key, currency, generation, pull_no, act_id)
    VALUES (current_client(), ${key.source}, ${key.key}, ${key.currency}, ${posted.generation}, ${loaded.pullNo}, ${actId})`)
  await writeEntries(tx, numberEntries(entries, firsts, client.fiscalStart), actId)
  await tx.execute(sql`UPDATE settlement SET corrections = 0, correction_amount = 0,
      settled_by = greatest(settled_by, ${entries[0]?.date ?? null}::date, last_date)
    WHERE client_id = current_client() AND source = ${key.source} AND key = ${key.key} AND currency = ${key.currency}`)
  await consent?.mark(tx)
  await markStages(tx, ['settlements', 'clearing', 'books'])
  return { ok: true, entries: entries.length }
}

const bookedLines = (tx: Transaction, key: SettlementKey, generation: number) =>
  rowsOf(
    tx,
    {
      account: is.text,
      taxCode: is.text,
      segments: is.text,
      amount: is.minor,
      baseAmount: is.minor,
      buckets: is.list(is.text),
      routes: is.list(is.whole),
    },
    sql`
    SELECT l.account, l.tax_code AS "taxCode", l.segments, l.amount, l.base_amount AS "baseAmount", l.buckets, l.routes
    FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
    WHERE e.source = ${key.source} AND e.key = ${key.key} AND e.currency = ${key.currency} AND e.generation = ${generation}
      AND ${isDocument('booksLines')}`,
  )

const holdUnchanged = async (
  tx: Transaction,
  key: SettlementKey,
  seen: { pullNo: number; generation: number; entries: readonly NewEntry[] },
): Promise<void> => {
  const [source] = await holdSources(tx, [key.source], 'read')
  if (source?.last_pull !== seen.pullNo) throw new Stale('new activity was stored')
  await holdDays(tx, seen.entries)
  const [row] = await rowsOf(
    tx,
    { state: is.text, generation: is.whole, corrections: is.whole },
    sql`
    SELECT state, generation, corrections FROM settlement WHERE client_id = current_client() AND source = ${key.source}
      AND key = ${key.key} AND currency = ${key.currency} FOR NO KEY UPDATE`,
  )
  if (row?.state !== 'posted' || row.generation !== seen.generation || row.corrections === 0)
    throw new Stale('somebody else was quicker')
}
