import type { ActivityLine } from '../activity/activityLine.ts'
import { composeCoded } from './composeCoded.ts'
import { type BookedAgainst, composeLike } from './composeLike.ts'
import type { Composed } from './composeSettlement.ts'

/** What is decided of a payment that only one side knows of, or both know differently, as far as it is booked. */
export type BookedDecision =
  /** To a named account, with the tax of a code or none: a difference written off, a gift, a test, a sale without an order. */
  | { readonly as: 'to_account'; readonly account: string; readonly taxCode: string | null }
  /** A price reduction: booked and taxed like a discount on its order. */
  | { readonly as: 'like_discount' }
  /** The order is undone: booked and taxed like a refund of it. */
  | { readonly as: 'like_refund' }

/**
 * Composes the entry of a decision: `on.amount` leaves or enters the account that holds it, and the other side is what was decided. `line` is the
 * channel's tender, or the collection.
 */
export const composeDecision = (line: ActivityLine, decision: BookedDecision, on: BookedAgainst): Composed => {
  if (decision.as !== 'to_account')
    return composeLike(line, decision.as === 'like_discount' ? 'discount' : 'refund', on)
  const { account: bankAccount, date, amount, setup } = on
  const { account, taxCode } = decision
  return composeCoded({ bankAccount, currency: line.currency, date, amount, account, taxCode }, setup)
}
