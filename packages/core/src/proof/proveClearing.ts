import { daysBetween } from '../activity/localDate.ts'
import { compareText } from '../mapping/compareText.ts'
import { addMinor, sumMinor } from '../money/minor.ts'
import type { NamedFact } from './findAlike.ts'
import type {
  DocumentRef,
  HeadSeries,
  NamedAmount,
  ProofInput,
  ProofMovement,
  ProofPayout,
  ProofSettlement,
} from './proofInput.ts'

/** Causes in the order in which they are told. */
export const causes = [
  'blocked',
  'unposted',
  'after_cut_off',
  'payout_on_its_way',
  'overdue',
  'misdated',
  'reserve_kept',
  'pending',
  'unpaid_orders',
  'elsewhere',
  'correction',
  'by_hand',
  'double',
  'missing_day',
  'gap',
  'order_open',
  'exchange_rounding',
  'unexplained',
] as const

export type Cause = (typeof causes)[number]

/** Causes that somebody has to mend; all others are a matter of time, and may stand. */
export const toBeMended: ReadonlySet<Cause> = new Set([
  'blocked',
  'unposted',
  'overdue',
  'misdated',
  'correction',
  'by_hand',
  'double',
  'missing_day',
  'gap',
  'order_open',
])

export interface CauseDocument {
  readonly name: string
  /** Null where a cause has no documents to open, only an amount. */
  readonly ref: DocumentRef | null
  readonly amount: number
  /** Since when it is open (local date); null where many days stand behind it. */
  readonly date: string | null
}

export interface ProofCause {
  readonly cause: Cause
  readonly amount: number
  readonly documents: readonly CauseDocument[]
}

/** closed: nothing unexplained, nothing to be mended. explained: nothing unexplained, but something is to be mended. */
export type Outcome = 'closed' | 'explained' | 'open'

export interface Proof {
  readonly ledger: number
  readonly reported: number
  /** Causes with a document, also where these cancel, in order; `unexplained` always, last. Ledger + causes = reported. */
  readonly causes: readonly ProofCause[]
  readonly unexplained: number
  readonly wrongEntries: readonly NamedAmount[]
  /** Rows of files that were left out unread, up to the date. */
  readonly rowsAside: NonNullable<ProofInput['rowsAside']>
  readonly outcome: Outcome
}

/**
 * Explains why a clearing account's balance in the books differs from what its processors report at a date. Each cause is worked out from
 * lines and documents; what is left over is unexplained, whatever it comes of (rules of proof, section 10).
 */
export const proveClearing = (input: ProofInput): Proof => {
  const documents = (cause: Cause): CauseDocument[] => merged(rowsOf[cause](input), toBeMended.has(cause))
  const found = causes
    .map(cause => ({ cause, documents: documents(cause) }))
    .filter(row => row.documents.length > 0)
    .map((row): ProofCause => ({ ...row, amount: sumMinor(row.documents, document => document.amount) }))
  const unexplained = addMinor(input.reported, -input.ledger, ...found.map(row => -row.amount))
  const wrongEntries = (input.wrongEntries ?? []).filter(entry => entry.amount !== 0 && entry.date <= input.date)
  const rowsAside = (input.rowsAside ?? []).filter(row => row.date === null || row.date <= input.date)
  return {
    ledger: input.ledger,
    reported: input.reported,
    causes: [...found, { cause: 'unexplained', amount: unexplained, documents: [] }],
    unexplained,
    wrongEntries,
    rowsAside,
    outcome: outcomeOf(found, { open: unexplained !== 0 || wrongEntries.length > 0, mend: rowsAside.length > 0 }),
  }
}

const outcomeOf = (
  found: readonly ProofCause[],
  { open, mend }: { readonly open: boolean; readonly mend: boolean },
): Outcome => (open ? 'open' : mend || found.some(row => toBeMended.has(row.cause)) ? 'explained' : 'closed')

/** A row of a cause at the proof's date, in the sign that leads from the books to the balance. */
type CauseRow = CauseDocument

const rowsOf: Record<Cause, (input: ProofInput) => CauseRow[]> = {
  blocked: input => ofStates(input, ['blocked']),
  unposted: input => ofStates(input, ['proposed', 'set_aside']),
  after_cut_off: input => [...movementRows(input, false), ...takenBackLater(input, false)],
  payout_on_its_way: input => [...payoutRows(input, 'payout_on_its_way'), ...takenBackLater(input, true)],
  overdue: input => payoutRows(input, 'overdue'),
  misdated: input => [...movementRows(input, true), ...payoutRows(input, 'misdated')],
  reserve_kept: input => named(input.reserves, input, -1),
  pending: input => named(input.pending, input, 1),
  unpaid_orders: input => named(input.unpaidOrders ?? [], input, -1),
  elsewhere: input => named(input.elsewhere ?? [], input, 1),
  correction: input => named(input.corrections, input, 1),
  by_hand: input =>
    named(
      input.byHand.filter(row => !row.repeats),
      input,
      -1,
    ),
  double: input => [
    ...named(
      input.byHand.flatMap(row => (row.repeats ? [{ ...row, name: `${row.name} of ${row.repeats}` }] : [])),
      input,
      -1,
    ),
    ...facts(input.alike ?? [], input),
  ],
  missing_day: input => facts(input.missing ?? [], input),
  gap: input => input.series.flatMap(series => gaps(series, input.date)),
  order_open: input => facts(input.openOrders ?? [], input),
  exchange_rounding: input => named(input.rounding ?? [], input, -1),
  unexplained: () => [],
}

const signed = (sign: 1 | -1, amount: number): number => (amount === 0 ? 0 : sign * amount)

const named = (rows: readonly NamedAmount[], { date }: ProofInput, sign: 1 | -1): CauseRow[] =>
  rows.filter(row => row.date <= date).map(row => ({ ...row, amount: signed(sign, row.amount) }))

/** What has no amount, and is to be looked at all the same. */
const facts = (rows: readonly NamedFact[], { date }: ProofInput): CauseRow[] =>
  rows.filter(row => row.date <= date).map(row => ({ ...row, amount: 0 }))

const ofStates = (input: ProofInput, states: readonly ProofSettlement['state'][]): CauseRow[] =>
  input.settlements
    .filter(settlement => states.includes(settlement.state))
    .flatMap(({ name, ref, movements, payouts }) =>
      [...movements, ...payouts].filter(row => row.date <= input.date).map(row => ({ name, ref, ...row })),
    )

const movementRows = (input: ProofInput, misdated: boolean): CauseRow[] =>
  input.settlements.flatMap(settlement =>
    settlement.movements
      .filter(movement => isMisdated(settlement, movement, input) === misdated)
      .flatMap(movement => acrossDate(settlement, movement, input)),
  )

/** Whether the entry that holds a movement was to be dated too late after it, or before it. */
const isMisdated = (
  { state }: ProofSettlement,
  { date, bookedOn, wantedOn, tendered }: ProofMovement,
  { timing }: ProofInput,
): boolean => {
  const wanted = wantedOn ?? bookedOn
  if (!timing || wanted === null || tendered || state !== 'posted') return false
  const days = daysBetween(date, wanted)
  return days > timing.misdatedDays || days < -1
}

// By the entry's date alone, never by its amount: what is wrong with an entry is no matter of time.
const acrossDate = (settlement: ProofSettlement, movement: ProofMovement, input: ProofInput): CauseRow[] => {
  const { name, ref } = settlement
  const { date, bookedOn, amount } = movement
  if (bookedOn === null) return []
  const happened = date <= input.date
  const booked = bookedOn <= input.date
  // One that is past in both its dates moves nothing, and is told all the same where the two do not go together.
  if (happened && booked && isMisdated(settlement, movement, input)) return [{ name, ref, date, amount: 0 }]
  return happened === booked ? [] : [{ name, ref, date, amount: happened ? amount : signed(-1, amount) }]
}

const takenBackLater = (input: ProofInput, payouts: boolean): CauseRow[] =>
  (input.takenBack ?? [])
    .filter(row => row.payout === payouts && row.postedOn <= input.date && row.date > input.date)
    .map(({ name, ref, postedOn, amount }) => ({ name, ref, date: postedOn, amount }))

const payoutRows = (input: ProofInput, cause: 'payout_on_its_way' | 'overdue' | 'misdated'): CauseRow[] =>
  input.settlements.flatMap(settlement =>
    settlement.payouts.flatMap(payout => {
      const row = onItsWay(settlement, payout, input)
      return causeOfPayout(settlement, payout, { input, amount: row.amount }) === cause ? [row] : []
    }),
  )

/** Whether a payout is on its way, for too long, or dated apart from its line. One that is past in all its dates is told only where they do not go together. */
const causeOfPayout = (
  { state }: ProofSettlement,
  { date, transferDate, wantedOn, arrivedOn, leaves, amount: paid }: ProofPayout,
  { input, amount }: { readonly input: ProofInput; readonly amount: number },
): 'payout_on_its_way' | 'overdue' | 'misdated' => {
  const { timing } = input
  if (!timing || paid === 0) return 'payout_on_its_way'
  const bookedOn = (state === 'posted' ? transferDate : null) ?? date
  const wanted = (state === 'posted' ? (wantedOn ?? transferDate) : null) ?? date
  const begun = date <= input.date || bookedOn <= input.date
  if (begun && Math.abs(daysBetween(date, wanted)) > timing.onItsWayDays) return 'misdated'
  if (arrivedOn !== null && arrivedOn < bookedOn && arrivedOn <= input.date) return 'overdue'
  const left = leaves === 'sent' ? date : arrivedOn
  const since = left !== null && left <= input.date ? left : bookedOn
  return amount !== 0 && daysBetween(since, input.date) > timing.onItsWayDays ? 'overdue' : 'payout_on_its_way'
}

// A payout that is not posted is counted on its own date with the rest of its settlement: only what leaves later is on its way. So is one
// of a posted settlement that lacks its transfer: that is no matter of time.
const onItsWay = ({ name, ref, state }: ProofSettlement, payout: ProofPayout, input: ProofInput): CauseRow => {
  const left = payout.leaves === 'sent' ? payout.date : payout.arrivedOn
  const gone = left !== null && left <= input.date ? payout.amount : 0
  const bookedOn = (state === 'posted' ? payout.transferDate : null) ?? payout.date
  const booked = bookedOn <= input.date ? payout.amount : 0
  return { name, ref, date: payout.date, amount: addMinor(gone, -booked) }
}

// Each settlement should open where the one before closed, a source's first at what its account opened with.
const gaps = ({ source, heads, opened }: HeadSeries, date: string): CauseRow[] => {
  const begun = heads
    .flatMap(head =>
      head.periodStart !== null && head.periodStart <= date ? [{ ...head, begins: head.periodStart }] : [],
    )
    .sort((left, right) => compareText(left.begins, right.begins) || compareText(left.settlementId, right.settlementId))
  let before: number | null = opened
  return begun
    .map(({ settlementId, begins, openingBalance, closingBalance }) => {
      const amount = openingBalance === null || before === null ? 0 : addMinor(openingBalance, -before)
      before = closingBalance
      return { name: settlementId, ref: { of: 'settlement', source, key: settlementId }, date: begins, amount } as const
    })
    .filter(row => row.amount !== 0)
}

/** The rows of one document as one, open since its first day; those of nothing are left out, but where their being there is a fault. */
const merged = (rows: readonly CauseRow[], mend: boolean): CauseDocument[] => {
  const sums = new Map<string, CauseDocument>()
  for (const row of rows) {
    const key = JSON.stringify([row.ref, row.name])
    const known = sums.get(key)
    sums.set(key, {
      name: row.name,
      ref: row.ref,
      amount: addMinor(known?.amount ?? 0, row.amount),
      date: known?.date && (row.date === null || known.date < row.date) ? known.date : row.date,
    })
  }
  return [...sums.values()].filter(document => document.amount !== 0 || mend)
}
