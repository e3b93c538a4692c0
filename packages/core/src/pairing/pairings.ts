import type { Bindings } from './bindings.ts'
import type { ExactGroupings } from './exactGroupings.ts'
import type { OpenAmounts } from './openAmounts.ts'
import { byDateAndId, type Grouping, type PairingOptions } from './pairingItems.ts'
import type { Payers } from './payers.ts'

/** How sure the program is of a pairing. */
export type Sureness = 'certain' | 'likely' | 'possible'

/** What speaks for a pairing. */
export interface PairingEvidence {
  readonly exactSum: boolean
  readonly payerNamed: boolean
  readonly referenceFound: boolean
  /** Days from the last payout to the last bank line. */
  readonly lagDays: number
  /** Within what the source's deposits took so far; null where nothing is known of them. */
  readonly lagUsual: boolean | null
  /** Its payouts follow each other at their source; null for 1:1. */
  readonly consecutive: boolean | null
}

/** Payouts and deposits that are taken for the same money; minor units. */
export interface Pairing extends Grouping {
  readonly sureness: Sureness
  /** Deposited less paid out, minor units: zero but for a possible pairing. */
  readonly difference: number
  readonly evidence: PairingEvidence
  /** What the evidence adds up to, in points: an order among what is not certain. */
  readonly score: number
  /** Other exact groupings that share a member. */
  readonly others: readonly Grouping[]
  /** Certain but for data not yet known: until this date (local) both sides must be pulled. */
  readonly waitsFor: string | null
}

/** Exact groupings of one item beyond which none of them is likely. */
export const maxGroupingsOfItem = 50

/** The id behind an item’s key, which begins with its side. */
export const idOf = (key: string): string => key.slice(1)

/** What is judged by, whichever grouping is looked at. */
export interface Context {
  readonly options: PairingOptions
  readonly exact: ExactGroupings
  readonly bindings: Bindings
  readonly payers: Payers
  readonly open: OpenAmounts
  readonly byItem: ReadonlyMap<string, readonly Grouping[]>
  /** Place of each transfer among those of its source, by id. */
  readonly order: ReadonlyMap<string, number>
}

const compareLists = (
  left: readonly { date: string; id: string }[],
  right: readonly { date: string; id: string }[],
): number => {
  for (let at = 0; at < Math.min(left.length, right.length); at++) {
    const order = byDateAndId(left[at] as { date: string; id: string }, right[at] as { date: string; id: string })
    if (order !== 0) return order
  }
  return left.length - right.length
}

/** A grouping is the list of its bank lines, then of its transfers, by (date, id). */
export const compareGroupings = (left: Grouping, right: Grouping): number =>
  compareLists(left.bankLines, right.bankLines) || compareLists(left.transfers, right.transfers)
