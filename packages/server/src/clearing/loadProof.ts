import { addMinor, type Proof, type ProofInput, type ProofSettlement, proveClearing, toBeMended } from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  type ClearingAccount,
  clearingAccounts,
  ledgerAt,
  ledgerByLines,
  namesOf,
  reportedAt,
} from '../activity/clearingAccounts.ts'
import { documentOf, loadElsewhere, loadRoutedTenders, type RoutedLine } from '../activity/elsewhereLines.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { balanceAccounts, clearsAlone } from './balanceAccounts.ts'
import { proveBalance } from './balanceProof.ts'
import { loadByHand, loadTakenBack } from './ledgerRows.ts'
import { loadSettlements } from './loadSettlements.ts'
import { loadAlike, missingFacts, oldOrders } from './proofFacts.ts'
import { linesWhere, loadCorrections, loadRowsAside, loadSeries, settlementRef } from './proofRows.ts'
import { loadCorrected } from './standingSettlements.ts'
import { loadUncollected, tenderSide } from './tenderedHere.ts'
import { loadWrongEntries } from './wrongEntries.ts'

interface ProofAt {
  readonly date: string
  readonly reported: number
  /** Sums only, from kept totals, without the documents behind them. */
  readonly brief?: boolean
}

/** Everything a proof of a clearing account at a date is made of. */
export const loadProofInput = async (tx: Transaction, clearing: ClearingAccount, at: ProofAt): Promise<ProofInput> => {
  const { date, brief = false } = at
  const client = await loadSetup(tx)
  const elsewhere = await loadElsewhere(tx, clearing)
  const routed = await loadRoutedTenders(tx, clearing)
  const side = await tenderSide(tx, clearing, client)
  const own = { lines: sql`l.source = ANY(${namesOf(clearing.sources)}::text[])`, sign: 1 } as const
  const passedBy = new Set(elsewhere.map(line => `${line.source} ${line.lineId}`))
  const corrected = await loadCorrected(tx, clearing, date)
  const sides = side ? [own, side] : [own]
  const corrections = corrected.waiting
    ? await loadCorrections(tx, clearing, { sides, byLine: !brief || passedBy.size > 0 })
    : []
  const uncollected = await loadUncollected(tx, clearing, { side, date, decided: corrected.decided })
  return {
    date,
    reported: at.reported,
    ledger: brief ? await ledgerAt(tx, clearing, date) : await ledgerByLines(tx, clearing, date),
    settlements: [
      ...(await loadSettlements(tx, clearing, { date, brief, corrected, side })),
      ...elsewhere.flatMap(line => leftOut(line, date)),
      ...routed.flatMap(line => sentByRoute(line, date)),
    ],
    takenBack: await loadTakenBack(tx, clearing, date),
    reserves: await linesWhere(tx, clearing, 'reserve', date),
    pending: await linesWhere(tx, clearing, 'pending', date),
    unpaidOrders: [
      ...uncollected.open,
      ...routed.map(line => ({ ...documentOf(line), date: line.date, amount: -line.amount })),
    ],
    elsewhere: elsewhere.map(line => ({ ...documentOf(line), date: line.date, amount: line.amount })),
    // What another document books is passed by on its own side.
    corrections: [
      ...corrections.filter(line => line.side > 0 || !passedBy.has(`${line.source} ${line.lineId}`)),
      ...uncollected.outdated.map(row => ({ ...row, amount: -row.amount })),
    ],
    byHand: await loadByHand(tx, clearing, date),
    series: await loadSeries(tx, clearing, date),
    rowsAside: await loadRowsAside(tx, clearing),
    timing: client.setup.timing ?? null,
    alike: await loadAlike(tx, clearing, { date, side }),
    missing: await missingFacts(tx, clearing, date),
    openOrders: await oldOrders(tx, clearing, { date, elsewhere }),
    wrongEntries: brief ? [] : await loadWrongEntries(tx, clearing, { date, side, elsewhere, routed }),
  }
}

const isPast = (line: RoutedLine, date: string): boolean =>
  !line.held || (line.state === 'posted' && (line.settledBy === null || line.settledBy <= date))

const oneMovement = (line: RoutedLine, amount: number): ProofSettlement => ({
  ...settlementRef(line),
  state: line.state,
  movements: [{ date: line.date, amount, bookedOn: line.state === 'posted' ? line.entryDate : null }],
  payouts: [],
})

// Its settlement counts a line that another document books; here it is taken out again. One posted and past counts nothing any more.
const leftOut = (line: RoutedLine, date: string): ProofSettlement[] =>
  isPast(line, date) ? [] : [oneMovement(line, -line.amount)]

const sentByRoute = (line: RoutedLine, date: string): ProofSettlement[] =>
  isPast(line, date) ? [] : [oneMovement(line, -line.amount)]

/** The proof at a date, or at the day of which all have reported; null where one of its processors never reported a balance. */
export const loadProof = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string | null,
  brief = false,
): Promise<(Proof & { date: string; reportedOn: string }) | null> => {
  const reported = await reportedAt(tx, clearing, date)
  if (!reported) return null
  const on = date ?? reported.date
  const proof = proveClearing(await loadProofInput(tx, clearing, { date: on, reported: reported.amount, brief }))
  return { ...proof, date: on, reportedOn: reported.date }
}

/** What keeps a clearing account from being closed at its last report, in minor units of its own currency. */
export interface UnclosedAccount {
  readonly currency: string
  readonly outcome: 'explained' | 'open'
  readonly unexplained: number
  /** What is to be mended, of either sign. */
  readonly toMend: number
}

export const unclosedNow = async (tx: Transaction): Promise<readonly UnclosedAccount[]> => {
  const found: UnclosedAccount[] = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = await loadProof(tx, clearing, null, true)
    if (!proof || proof.outcome === 'closed') continue
    found.push({
      currency: clearing.currency,
      outcome: proof.outcome,
      unexplained: proof.unexplained,
      toMend: toMendOf(proof),
    })
  }
  for (const of of (await balanceAccounts(tx)).filter(clearsAlone)) {
    const proof = await proveBalance(tx, of, null)
    if (!proof || proof.outcome === 'closed') continue
    const { outcome, unexplained } = proof
    found.push({ currency: of.currency, outcome, unexplained, toMend: toMendOf(proof) })
  }
  return found
}

const toMendOf = (proof: Proof): number =>
  addMinor(...proof.causes.filter(cause => toBeMended.has(cause.cause)).map(cause => Math.abs(cause.amount)))

/** Accounts that are not closed at a date, or have no proof then. */
export const unprovedAt = async (
  tx: Transaction,
  date: string,
): Promise<{ account: string; name: string; outcome: Proof['outcome'] | null }[]> => {
  const unproved = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = await loadProof(tx, clearing, date)
    // Before anything moved on it there is nothing that a balance could prove.
    if (proof === null && !(await hasMoved(tx, clearing, date))) continue
    if (proof?.outcome !== 'closed')
      unproved.push({ account: clearing.account, name: clearing.name, outcome: proof?.outcome ?? null })
  }
  for (const of of (await balanceAccounts(tx)).filter(clearsAlone)) {
    const proof = await proveBalance(tx, of, date)
    if (proof && proof.outcome !== 'closed')
      unproved.push({ account: of.account, name: of.name, outcome: proof.outcome })
  }
  return unproved
}

/** Whether anything was booked to an account, or reported by whoever speaks for it, up to a date. */
const hasMoved = async (
  tx: Transaction,
  { account, currency, sources }: ClearingAccount,
  date: string,
): Promise<boolean> =>
  (
    await oneRow(
      tx,
      { moved: is.yes },
      sql`SELECT EXISTS (SELECT FROM account_total t WHERE t.client_id = current_client() AND t.account = ${account} AND t.day <= ${date}::date)
        OR EXISTS (SELECT FROM line_as_of l WHERE l.client_id = current_client() AND l.source = ANY(${namesOf(sources)}::text[])
          AND l.currency = ${currency} AND l.local_date <= ${date}::date AND l.stands)
        OR EXISTS (SELECT FROM settlement s WHERE s.client_id = current_client() AND s.source = ANY(${namesOf(sources)}::text[])
          AND s.currency = ${currency} AND s.has_head AND s.period_start <= ${date}::date) AS moved`,
    )
  ).moved
