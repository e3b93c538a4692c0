import { goesBack } from '../activity/kindTraits.ts'
import type { OneSided, OneSidedItem } from './oneSided.ts'

/** What can be decided of a one-sided payment. */
export const decisionSorts = [
  /** It is the same money as a payment of the other side. */
  'attached',
  /** Less was asked for after all: booked like a discount on the order. */
  'price_reduction',
  /** A small difference is a cost, or a gain. */
  'written_off',
  'gift',
  'own_test',
  /** A sale that no order stands for. */
  'sale',
  /** It is what its route books it as. */
  'as_routed',
  /** The other side will come. */
  'waits',
  'set_aside',
] as const
export type DecisionSort = (typeof decisionSorts)[number]

const always: readonly DecisionSort[] = ['waits', 'set_aside']

const actsOf: Record<OneSided, readonly DecisionSort[]> = {
  tender_not_collected: ['attached', 'price_reduction', 'written_off', 'gift', 'own_test', ...always],
  collected_without_order: ['attached', 'sale', 'gift', 'own_test', 'as_routed', ...always],
  refund_not_paid: ['attached', 'written_off', ...always],
  refund_without_order: ['attached', 'written_off', 'own_test', 'as_routed', ...always],
  amount_differs: ['price_reduction', 'written_off', ...always],
}

const withinLimit: ReadonlySet<DecisionSort> = new Set(['price_reduction', 'written_off'])

/** Whether an amount (minor units of a currency) may be written off, by the client's limit. */
export type MayWriteOff = (amount: number, currency: string) => boolean

/**
 * The line that a decision names: what is on one side only, or the collection whose amount differs. The tender of the latter may have been attached
 * by a decision of its own.
 */
export const decidedLine = ({ line }: OneSidedItem): OneSidedItem['line'] => line

/** The line that a decision is booked like: the channel's tender where one is known. */
export const bookedLine = ({ line, other }: OneSidedItem): OneSidedItem['line'] => other ?? line

/** What can be decided of a payment. A price is reduced only where less came in than the order says. */
export const decisionsOn = (item: OneSidedItem, mayWriteOff: MayWriteOff): DecisionSort[] => {
  const small = mayWriteOff(item.amount, item.line.currency)
  const loses =
    item.sort === 'tender_not_collected' ||
    (item.sort === 'amount_differs' && item.amount < 0 && !goesBack(item.line.kind))
  return actsOf[item.sort].filter(sort => (small || !withinLimit.has(sort)) && (loses || sort !== 'price_reduction'))
}

/**
 * What deciding moves the account by on which the money stands, minor units: a tender leaves its gateway's account as it came in, a difference
 * is brought to what was collected, and a collection leaves the account that its route booked it to.
 */
export const movedByDecision = (item: OneSidedItem): number => (item.other ? item.amount : item.line.amount)
