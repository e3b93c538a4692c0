import type { ActivityLine } from '../activity/activityLine.ts'
import { sumWide } from '../money/minor.ts'
import type { SupplyBook } from '../tax/supply.ts'
import { weightedLine } from './bookActivity.ts'
import { composeCoded } from './composeCoded.ts'
import { type Composed, composeSettlement } from './composeSettlement.ts'
import type { Setup } from './setup.ts'
import { supplyParts } from './supplyParts.ts'

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
  const known = setup.sources.get(chargeback.source)
  if (!known) throw new RangeError(`unknown source ${chargeback.source}`)
  // The account of disputed payments takes what a settlement's clearing account would.
  const options = { ...known.options, splitAtMonthEnd: false, taxTolerance: null }
  const source = { ...known, clearing: { [currency]: disputed }, options }
  const refund: ActivityLine = { ...chargeback, kind: 'refund', amount, taxAmount: null, status: 'available' }
  const aside: Setup = { ...setup, sources: new Map([...setup.sources, [source.key, source]]) }
  const lines = supplyParts({ ...refund, localDate: date }, weightedLine(refund, date), {
    book: on.book,
    setup: aside,
    source,
  })
  return composeSettlement(
    {
      ...{ source: source.key, currency, day: date, settlementId: null, head: null, payouts: [], lastDate: date },
      lines,
      sumOfLines: sumWide(lines, line => line.amount),
    },
    aside,
  )
}
