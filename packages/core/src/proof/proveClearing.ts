import type { SettlementHead } from '../activity/activityLine.ts'
import { addMinor, sumMinor } from '../money/minor.ts'

/** Causes in the order in which they are told. */
export const causes = [
  'blocked',
  'unposted',
  'after_cut_off',
  'payout_on_its_way',
  'reserve_kept',
  'pending',
  'unpaid_orders',
  'elsewhere',
  'correction',
  'by_hand',
  'double',
  'gap',
  'exchange_rounding',
  'unexplained',
] as const
export type Cause = (typeof causes)[number]

/** Lines of one settlement that move the clearing account, added up per local date. Minor units, plus is a debit. */
export interface DatedAmount {
  readonly date: string
  readonly amount: number
}

export interface ProofPayout extends DatedAmount {
  /** `date` is the line's local date. */
  readonly lineId: string
  /** Date of its posted transfer; null while not posted. */
  readonly transferDate: string | null
  /** Date of the last bank line of its certain or likely group. */
  readonly arrivedOn: string | null
}

/** What one settlement or business day of a source does to the clearing account. */
export interface ProofSettlement {
  readonly name: string
  readonly state: 'blocked' | 'proposed' | 'posted' | 'set_aside'
  /** Booked lines, payouts apart. */
  readonly movements: readonly DatedAmount[]
  readonly payouts: readonly ProofPayout[]
  /** Its posted journals' lines on the account, per entry date. */
  readonly entries: readonly DatedAmount[]
}

export interface ProofInput {
  readonly date: string
  /** Balance in the books at the end of `date`, debit positive. */
  readonly ledger: number
  /** What the processor says it holds. */
  readonly reported: number
  readonly settlements: readonly ProofSettlement[]
  /** Whether the processor's balance drops when a payout is sent or when it has arrived. */
  readonly payoutsLeaveBalance: 'sent' | 'arrived'
  /** Reserve lines to be added back, where the processor counts its reserve into the balance. */
  readonly reserves: readonly DatedAmount[]
  /** Activity that is not available yet. */
  readonly pending: readonly DatedAmount[]
  /** Revisions of posted lines, new less old, not booked. */
  readonly corrections: readonly (DatedAmount & { readonly name: string })[]
  /**
   * Orders of a channel with what is open on each: lines booked less tenders. At a gateway: tenders that it never collected, and what it
   * collected beyond or below a tender. By name of the order, in the account's sign.
   */
  readonly unpaidOrders?: readonly (DatedAmount & { readonly name: string })[]
  /** Lines of its source that another document books: the processor holds them, the account never sees them. */
  readonly elsewhere?: readonly (DatedAmount & { readonly name: string })[]
  /** Entries on the account that no source made; `doubleOf`: the entry that it repeats. */
  readonly byHand: readonly (DatedAmount & { readonly name: string; readonly doubleOf?: string | null })[]
  /** What rounding in another currency left on the account. */
  readonly rounding?: readonly (DatedAmount & { readonly name: string })[]
  readonly heads: readonly SettlementHead[]
}

export interface CauseDocument {
  readonly name: string
  readonly amount: number
  /** Since when it is open (local date); null where many days stand behind it. */
  readonly date: string | null
}
export interface ProofCause {
  readonly cause: Cause
  readonly amount: number
  readonly documents: readonly CauseDocument[]
}
export interface Proof {
  readonly ledger: number
  readonly reported: number
  /** Causes that are not zero, in order; `unexplained` always, last. Ledger + causes = reported. */
  readonly causes: readonly ProofCause[]
  readonly unexplained: number
}

const upTo = (rows: readonly DatedAmount[], date: string): number =>
  sumMinor(rows, row => (row.date <= date ? row.amount : 0))

/** Explains why a clearing account's balance in the books differs from what the processor reports at a date. */
export const proveClearing = (input: ProofInput): Proof => {
  const { date } = input
  const named = (rows: readonly (DatedAmount & { readonly name: string })[], sign: 1 | -1) =>
    rows.map(row => ({ name: row.name, date: row.date, amount: sign * upTo([row], date) || 0 }))
  const cause = (name: Cause, documents: readonly CauseDocument[]): ProofCause => ({
    cause: name,
    amount: sumMinor(documents, document => document.amount),
    documents: sumByName(documents).filter(document => document.amount !== 0),
  })
  const ofState = (state: ProofSettlement['state']) =>
    input.settlements
      .filter(settlement => settlement.state === state)
      .map(settlement => ({
        name: settlement.name,
        date: lastOf([...settlement.movements, ...settlement.payouts]),
        amount: addMinor(upTo(settlement.movements, date), upTo(settlement.payouts, date)),
      }))
  const posted = input.settlements.filter(settlement => settlement.state === 'posted')
  const found = [
    cause('blocked', ofState('blocked')),
    cause('unposted', [...ofState('proposed'), ...ofState('set_aside')]),
    cause(
      'after_cut_off',
      posted.map(({ name, movements, entries }) => ({
        name,
        date: lastOf([...movements, ...entries]),
        amount: addMinor(upTo(movements, date), -upTo(entries, date)),
      })),
    ),
    cause(
      'payout_on_its_way',
      input.settlements.flatMap(settlement =>
        settlement.payouts.map(payout => ({
          name: settlement.name,
          date: payout.date,
          amount: onItsWay(payout, settlement.state === 'posted', input),
        })),
      ),
    ),
    cause('reserve_kept', [{ name: '', date: null, amount: -upTo(input.reserves, date) }]),
    cause('pending', [{ name: '', date: null, amount: upTo(input.pending, date) }]),
    cause('unpaid_orders', named(input.unpaidOrders ?? [], -1)),
    cause('elsewhere', named(input.elsewhere ?? [], 1)),
    cause('correction', named(input.corrections, 1)),
    cause(
      'by_hand',
      named(
        input.byHand.filter(row => !row.doubleOf),
        -1,
      ),
    ),
    cause(
      'double',
      named(
        input.byHand.filter(row => row.doubleOf).map(row => ({ ...row, name: `${row.name} of ${row.doubleOf}` })),
        -1,
      ),
    ),
    cause('gap', gaps(input.heads, date)),
    cause('exchange_rounding', named(input.rounding ?? [], -1)),
  ].filter(row => row.amount !== 0 || row.documents.length > 0)
  const unexplained = addMinor(input.reported, -input.ledger, ...found.map(row => -row.amount))
  const rows = [
    ...found.filter(row => row.amount !== 0),
    { cause: 'unexplained', amount: unexplained, documents: [] } as const,
  ]
  return { ledger: input.ledger, reported: input.reported, causes: rows, unexplained }
}

/** The documents of one name as one, open since its first day. */
const sumByName = (documents: readonly CauseDocument[]): CauseDocument[] => {
  const sums = new Map<string, CauseDocument>()
  for (const one of documents) {
    const known = sums.get(one.name)
    sums.set(one.name, {
      name: one.name,
      amount: addMinor(known?.amount ?? 0, one.amount),
      date: known?.date && (one.date === null || known.date < one.date) ? known.date : one.date,
    })
  }
  return [...sums.values()]
}

const lastOf = (rows: readonly DatedAmount[]): string | null =>
  rows.reduce<string | null>((last, row) => (last === null || row.date > last ? row.date : last), null)

// A payout that is not posted is counted on its own date with the rest of its settlement: only what leaves later is on its way.
const onItsWay = (payout: ProofPayout, posted: boolean, input: ProofInput): number => {
  const left = input.payoutsLeaveBalance === 'sent' ? payout.date : payout.arrivedOn
  const gone = left !== null && left <= input.date ? payout.amount : 0
  const bookedOn = posted ? payout.transferDate : payout.date
  const booked = bookedOn !== null && bookedOn <= input.date ? payout.amount : 0
  return addMinor(gone, -booked)
}

// Each settlement should open where the one before closed, the first at zero: what does not is missing in between.
const gaps = (heads: readonly SettlementHead[], date: string): CauseDocument[] => {
  const begun = heads
    .filter(head => head.periodStart !== null && head.periodStart <= date)
    .sort((left, right) =>
      (left.periodStart as string) < (right.periodStart as string)
        ? -1
        : left.periodStart === right.periodStart
          ? left.settlementId < right.settlementId
            ? -1
            : 1
          : 1,
    )
  let before: number | null = 0
  return begun.map(head => {
    const amount = head.openingBalance === null || before === null ? 0 : addMinor(head.openingBalance, -before)
    before = head.closingBalance
    return { name: head.settlementId, date: head.periodStart, amount }
  })
}
