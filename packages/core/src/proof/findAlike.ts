import { daysBetween } from '../activity/localDate.ts'
import { compareText } from '../mapping/compareText.ts'
import type { DocumentRef } from './proofInput.ts'

/** A payout that is posted or waits to be, as far as it can be the double of another. Minor units, local date. */
export interface PayoutSeen {
  readonly source: string
  readonly currency: string
  readonly lineId: string
  readonly kind: 'payout' | 'payout_returned'
  readonly amount: number
  readonly date: string
  readonly reference: string | null
  /** It is matched with what the bank says, certainly or likely. */
  readonly arrived: boolean
}

/** Days within which a payout that failed comes back. */
const returnedWithinDays = 30

/**
 * Payouts that are likely doubles: alike in source, currency, amount and local date under other line ids, unless their references differ, each of them is
 * at the bank, or one of them came back. Of each such set all but the first by line id.
 */
export const alikePayouts = (payouts: readonly PayoutSeen[]): PayoutSeen[] => {
  const sets = new Map<string, PayoutSeen[]>()
  const returned = payouts.filter(one => one.kind === 'payout_returned')
  for (const payout of payouts) {
    if (payout.amount === 0) continue
    const key = JSON.stringify([payout.source, payout.currency, payout.kind, payout.amount, payout.date])
    const set = sets.get(key)
    if (set) set.push(payout)
    else sets.set(key, [payout])
  }
  return [...sets.values()].flatMap(set => {
    if (set.length < 2) return []
    const sorted = [...set].sort((left, right) => compareText(left.lineId, right.lineId))
    const [first] = sorted as [PayoutSeen]
    const cameBack = returned.filter(
      one =>
        first.kind === 'payout' &&
        one.source === first.source &&
        one.currency === first.currency &&
        one.amount === -first.amount &&
        daysBetween(first.date, one.date) >= 0 &&
        daysBetween(first.date, one.date) <= returnedWithinDays,
    ).length
    return sorted.slice(1 + cameBack).filter(payout => !isApart(payout, set))
  })
}

/** Whether a payout is told from all others like it: by its reference, or by what the bank says of each. */
const isApart = (payout: PayoutSeen, set: readonly PayoutSeen[]): boolean =>
  set.every(
    other =>
      other === payout ||
      (payout.arrived && other.arrived) ||
      (Boolean(payout.reference) && Boolean(other.reference) && payout.reference !== other.reference),
  )

/** Days before a proof within which tenders and collections are looked at for doubles: an older one stands among what was never collected. */
export const tiesLookedDays = 92

/** A tender or a collection. Minor units; `instant`: milliseconds since 1970. */
export interface TieSeen {
  readonly source: string
  readonly currency: string
  readonly lineId: string
  readonly kind: string
  readonly orderId: string | null
  readonly amount: number
  readonly instant: number
}

/** Tenders or collections that are likely doubles: alike in source, kind, order, amount and instant. Of each such set all but the first by line id. */
export const alikeTies = <Line extends TieSeen>(lines: readonly Line[]): Line[] => {
  const sets = new Map<string, Line[]>()
  for (const line of lines) {
    if (!line.orderId || line.amount === 0) continue
    const key = JSON.stringify([line.source, line.currency, line.kind, line.orderId, line.amount, line.instant])
    const set = sets.get(key)
    if (set) set.push(line)
    else sets.set(key, [line])
  }
  return [...sets.values()].flatMap(set =>
    [...set].sort((left, right) => compareText(left.lineId, right.lineId)).slice(1),
  )
}

/** Something of a proof that has no amount, and is to be looked at all the same. */
export interface NamedFact {
  readonly name: string
  readonly ref: DocumentRef
  /** Local date. */
  readonly date: string
}
