import { type Proof, type ProofInput, type ProofSettlement, proveClearing } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { loadSetup } from '../settlements/loadSetup.ts'
import { settlementName } from '../settlements/settlementKey.ts'
import { isBooked, revisionAsOf } from '../settlements/storedLines.ts'
import { type ClearingAccount, clearingAccounts, ledgerAt, reportedAt } from './clearingAccounts.ts'
import { type ElsewhereLine, loadElsewhere } from './elsewhereLines.ts'
import {
  linesWhere,
  loadByHand,
  loadCorrections,
  loadHeads,
  loadUnbooked,
  loadUnpostedPayouts,
  movesClearing,
  openSettlements,
  wholeSettlements,
} from './proofRows.ts'
import { tenderedSettlements, tenderSide, uncollected } from './tenderedHere.ts'

interface ProofAt {
  readonly date: string
  readonly reported: number
  /** Sums only, without the documents behind them. */
  readonly brief?: boolean
}

/** Everything a proof of a clearing account at a date is made of. */
export const loadProofInput = async (tx: Transaction, clearing: ClearingAccount, at: ProofAt): Promise<ProofInput> => {
  const { date } = at
  const client = await loadSetup(tx)
  const holdsMoney = clearing.shape !== 'channel'
  const elsewhere = await loadElsewhere(tx, clearing, date)
  const side = await tenderSide(tx, clearing, client)
  const own = { lines: sql`l.source = ${clearing.source}`, sign: 1 } as const
  return {
    date,
    reported: at.reported,
    ledger: await ledgerAt(tx, clearing, date),
    settlements: [
      ...(await ownSettlements(tx, clearing, { ...at, brief: at.brief ?? false })),
      ...elsewhere.flatMap(line => leftOut(line, date)),
      ...(side ? (await tenderedSettlements(tx, { clearing, date, side })).map(settlementOf) : []),
    ],
    payoutsLeaveBalance: clearing.payoutsLeaveBalance,
    reserves: holdsMoney && clearing.reservesStayOnBalance ? await linesWhere(tx, clearing, 'reserve', date) : [],
    pending: holdsMoney ? await linesWhere(tx, clearing, 'pending', date) : [],
    unpaidOrders: [
      ...(holdsMoney ? [] : await openOrders(tx, clearing, { date, elsewhere })),
      ...(side ? await uncollected(tx, { clearing, side }) : []),
    ],
    elsewhere: holdsMoney ? elsewhere : [],
    corrections: [
      ...(await loadCorrections(tx, clearing, own)),
      ...(side ? await loadCorrections(tx, clearing, side) : []),
    ],
    byHand: await loadByHand(tx, clearing, date),
    heads: await loadHeads(tx, clearing, date),
  }
}

const settlementOf = (row: {
  source: string
  key: string
  state: ProofSettlement['state']
  movements: ProofSettlement['movements'] | null
  payouts?: ProofSettlement['payouts'] | null
  entries?: ProofSettlement['entries'] | null
}): ProofSettlement => ({
  name: settlementName(row),
  state: row.state,
  movements: row.movements ?? [],
  payouts: row.payouts ?? [],
  entries: row.entries ?? [],
})

const ownSettlements = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { date: string; brief: boolean },
): Promise<ProofSettlement[]> => {
  const whole = await wholeSettlements(tx, clearing, at)
  const unbooked = await loadUnbooked(tx, clearing, at.date)
  // Where a payout leaves the balance only once it has arrived, it is told apart from the rest of its settlement.
  const waiting = clearing.payoutsLeaveBalance === 'arrived' ? await loadUnpostedPayouts(tx, clearing, at.date) : []
  const open = await openSettlements(tx, clearing, at.date)
  return [
    ...whole.map(row => settlementOf({ ...row, movements: [{ date: row.date, amount: row.amount }] })),
    ...unbooked.map(row => settlementOf({ ...row, movements: [{ date: row.date, amount: -row.amount }] })),
    ...waiting.map(({ lineId, date, amount, ...row }) =>
      settlementOf({
        ...row,
        movements: [{ date, amount: -amount }],
        payouts: [{ lineId, date, amount, transferDate: null, arrivedOn: null }],
      }),
    ),
    ...open.map(settlementOf),
  ]
}

// Its settlement counts a line that another document books; here it is taken out again. One posted and past counts nothing any more.
const leftOut = ({ amount, ...line }: ElsewhereLine, date: string): ProofSettlement[] =>
  line.state === 'posted' && (line.settledBy === null || line.settledBy <= date)
    ? []
    : [settlementOf({ ...line, movements: [{ date: line.date, amount: -amount }] })]

/** Orders of a channel on which something is open at a date: sales not tendered for, tenders without a sale. */
const openOrders = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { date: string; elsewhere: readonly ElsewhereLine[] },
): Promise<NonNullable<ProofInput['unpaidOrders']>> => {
  const rows = await rowsOf<{ name: string; date: string; amount: number }>(
    tx,
    sql`
    SELECT coalesce(l.order_id, l.line_id) AS name, min(l.local_date)::text AS date, sum(l.amount)::bigint AS amount
    FROM activity_line l
    WHERE l.client_id = current_client() AND l.source = ${clearing.source} AND l.currency = ${clearing.currency}
      AND l.local_date <= ${at.date} AND ${isBooked} AND ${revisionAsOf('now')} AND ${movesClearing}
      ${clearing.payoutsLeaveBalance === 'arrived' ? sql`AND l.kind NOT IN ('payout', 'payout_returned')` : sql``}
    GROUP BY 1 HAVING sum(l.amount) <> 0`,
  )
  return [...rows, ...at.elsewhere.map(({ name, date, amount }) => ({ name, date, amount: -amount }))]
}

/** The proof at a date, or at the processor's last report; null where the processor never reported a balance. */
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

/**
 * What is unexplained of each clearing account that is not proved, at its last report: minor units of its own currency. A channel's account
 * shows what is open on its orders, which explains it whole.
 */
export const unexplainedNow = async (
  tx: Transaction,
): Promise<readonly { readonly currency: string; readonly amount: number }[]> => {
  const open: { currency: string; amount: number }[] = []
  for (const clearing of await clearingAccounts(tx)) {
    if (clearing.shape === 'channel') continue
    const proof = await loadProof(tx, clearing, null, true)
    if (proof && proof.unexplained !== 0) open.push({ currency: clearing.currency, amount: proof.unexplained })
  }
  return open
}
