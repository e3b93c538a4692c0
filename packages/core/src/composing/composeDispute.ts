import type { ActivityLine } from '../activity/activityLine.ts'
import type { SupplyBook } from '../tax/supply.ts'
import { composeCoded } from './composeCoded.ts'
import { composeLike } from './composeLike.ts'
import type { Composed } from './composeSettlement.ts'
import type { Setup } from './setup.ts'

/** What is decided of a payment that a buyer's bank took back. */
export type DisputeDecision =
  /** It is a cost: to an expense account, untaxed. */
  | { readonly as: 'written_off'; readonly account: string }
  /** The sale is undone: booked like a refund of it, with its tax. */
  | { readonly as: 'credited' }

/**
 * Composes the entry that closes a disputed payment, dated the local date on which it is decided: what stands on the account of disputed payments goes
 * to a cost, or back to where a refund of the sale goes. `left` is what of the chargeback is still disputed, minor units below zero.
 */
export const composeDispute = (
  chargeback: ActivityLine,
  decision: DisputeDecision,
  on: {
    readonly setup: Setup
    /** The supplies that the chargeback may belong to. */
    readonly book: SupplyBook
    readonly disputed: string
    readonly date: string
    readonly left: number
  },
): Composed => {
  const { setup, date, left: amount, disputed } = on
  const { currency } = chargeback
  if (decision.as === 'written_off')
    return composeCoded(
      { bankAccount: disputed, currency, date, amount, account: decision.account, taxCode: null },
      setup,
    )
  return composeLike(chargeback, 'refund', { setup, book: on.book, account: disputed, date, amount })
}
