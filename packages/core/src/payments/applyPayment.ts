import { compareText } from '../mapping/compareText.ts'
import { addMinor } from '../money/minor.ts'
import type { OpenInvoice } from './findInvoices.ts'

export interface Applied {
  readonly parts: readonly { readonly number: string; readonly amount: number }[]
  /** What no invoice takes: an over-payment, owed to the customer. Minor units. */
  readonly over: number
}

/**
 * Applies an amount (minor units, above zero) to open invoices of one currency: oldest due first, then by date and number,
 * each up to what is open. A part-payment leaves the rest of its invoice open. @throws RangeError for an amount below zero.
 * @example applyPayment(150, [invoice of 100, invoice of 80]).parts // 100 and 50
 */
export const applyPayment = (amount: number, invoices: readonly OpenInvoice[]): Applied => {
  if (amount < 0) throw new RangeError(`cannot apply ${amount}`)
  const oldestFirst = [...invoices].sort(
    (left, right) =>
      compareText(left.due, right.due) || compareText(left.date, right.date) || compareText(left.number, right.number),
  )
  let left = amount
  const parts: { number: string; amount: number }[] = []
  for (const { number, open } of oldestFirst) {
    const part = Math.min(left, Math.max(0, open))
    if (part === 0) continue
    parts.push({ number, amount: part })
    left = addMinor(left, -part)
  }
  return { parts, over: left }
}

/** What can still be given back of a receipt: what came in less what went back already, never below zero. Minor units. */
export const refundable = (received: number, givenBack: readonly number[]): number =>
  Math.max(0, addMinor(received, ...givenBack.map(amount => -amount)))
