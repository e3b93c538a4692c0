import type { SettlementHead } from '../activity/activityLine.ts'
import type { Timing } from '../composing/setup.ts'
import type { NamedFact } from './findAlike.ts'

/** What a document of a proof is, so that it can be found again: never read out of its name. */
export type DocumentRef =
  | { readonly of: 'settlement'; readonly source: string; readonly key: string }
  | { readonly of: 'order'; readonly source: string; readonly order: string }
  | { readonly of: 'line'; readonly source: string; readonly lineId: string }
  | { readonly of: 'entry'; readonly fiscalYear: number; readonly number: number }
  | { readonly of: 'source'; readonly source: string }
  | { readonly of: 'account'; readonly account: string }

/** Minor units on a local date. */
export interface DatedAmount {
  readonly date: string
  /** Minor units, plus is a debit of the account. */
  readonly amount: number
}

/** An amount with the document that it is of. */
export interface NamedAmount extends DatedAmount {
  readonly name: string
  readonly ref: DocumentRef
}

/** A line that moves the clearing account, or lines alike in both dates added up. */
export interface ProofMovement extends DatedAmount {
  /** Date of the posted entry that holds it; null while its settlement is not posted. */
  readonly bookedOn: string | null
  /** Date that the entry was to have, where a lock or a filing moved it; absent: `bookedOn`. */
  readonly wantedOn?: string | null
  /** It is a channel's tender, dated as its gateway collected it: how its entry is dated is judged on the channel's own account. */
  readonly tendered?: boolean
}

/** A payout of a source, and when it arrived if it did. */
export interface ProofPayout extends DatedAmount {
  /** `date` is the line's local date. */
  readonly lineId: string
  /** Date of its posted transfer; null while not posted, and where it lacks. */
  readonly transferDate: string | null
  /** Date that the transfer was to have, where a lock moved it; absent: `transferDate`. */
  readonly wantedOn?: string | null
  /** Date of the last bank line of its certain or likely group. */
  readonly arrivedOn: string | null
  /** When the processor's balance drops: as the payout is sent, or once it has arrived. */
  readonly leaves: 'sent' | 'arrived'
}

/** What one settlement or business day of a source does to the clearing account. */
export interface ProofSettlement {
  readonly name: string
  readonly ref: DocumentRef
  /** One that is booked elsewhere is no item of a proof: the opening balance holds it. */
  readonly state: 'blocked' | 'proposed' | 'posted' | 'set_aside' | 'elsewhere'
  /** Booked lines, payouts apart. */
  readonly movements: readonly ProofMovement[]
  readonly payouts: readonly ProofPayout[]
}

/** A source's settlement heads, and what the account opened with for it. */
export interface HeadSeries {
  readonly source: string
  readonly heads: readonly SettlementHead[]
  /** Its opening entries on the account, minor units: what its first settlement should open at; null where one before it is known. */
  readonly opened: number | null
}

/** All that a proof of a clearing account is made from, up to its date. */
export interface ProofInput {
  readonly date: string
  /** Balance in the books at the end of `date`, debit positive. */
  readonly ledger: number
  /** What the processors say that they hold, added up; of a channel, what its orders leave open. */
  readonly reported: number
  readonly settlements: readonly ProofSettlement[]
  /** Mirror entries of what was posted once, with the dates of both: taken back only after the date, it still stands in the books. */
  readonly takenBack?: readonly (NamedAmount & { readonly postedOn: string; readonly payout: boolean })[]
  /** Reserve lines to be added back, where the processor counts its reserve into the balance. */
  readonly reserves: readonly NamedAmount[]
  /** Activity that is not available yet. */
  readonly pending: readonly NamedAmount[]
  /** Revisions of posted lines, new less old, not booked. */
  readonly corrections: readonly NamedAmount[]
  /** Tenders that the gateway never collected, and what it collected beyond or below a tender: plus is what was tendered. */
  readonly unpaidOrders?: readonly NamedAmount[]
  /** Lines of its sources that another document books: the processor holds them, the account never sees them. */
  readonly elsewhere?: readonly NamedAmount[]
  /** Entries on the account that no source made; `repeats`: the entry that it is the likely double of. */
  readonly byHand: readonly (NamedAmount & { readonly repeats?: string | null })[]
  /** What rounding in another currency left on the account. */
  readonly rounding?: readonly NamedAmount[]
  readonly series: readonly HeadSeries[]
  /** Rows of files that could not be read and were left out: whatever they come to, they are to be brought in, or said to move nothing. Null: their day is not known. */
  readonly rowsAside?: readonly { readonly name: string; readonly ref: DocumentRef; readonly date: string | null }[]
  /** How old what is a matter of time may get; absent: it has no age, and orders stay open. */
  readonly timing?: Timing | null
  /** Payouts, tenders and collections that are likely doubles of others of their source. */
  readonly alike?: readonly NamedFact[]
  /** Days and statements that a source left out between others, and of which nobody has said that nothing happened. */
  readonly missing?: readonly NamedFact[]
  /** Orders of the account's channels that are open for too long to be a matter of time; their amount stands in the books and in what the channel reports. */
  readonly openOrders?: readonly NamedFact[]
  /** Posted entries whose amount on the account is not that of their lines: entry less lines. No cause; they keep a proof open. */
  readonly wrongEntries?: readonly NamedAmount[]
}
