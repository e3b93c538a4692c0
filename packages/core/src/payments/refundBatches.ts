import { compareText } from '../mapping/compareText.ts'
import { addMinor } from '../money/minor.ts'
import { refundable } from './applyPayment.ts'

/** Money that a gateway paid back to a customer. Minor units, above zero; local date. */
export interface Refund {
  readonly id: string
  /** Key of the gateway's source. */
  readonly gateway: string
  readonly date: string
  readonly currency: string
  readonly amount: number
  /** Id of the receipt that it refunds; null: nobody knows which. */
  readonly receipt: string | null
}

/** A customer's payment as it was received, with what went back of it already. Minor units. */
export interface Receipt {
  readonly id: string
  readonly currency: string
  readonly amount: number
  readonly givenBack: readonly number[]
}

export type RefundFault = 'no_receipt' | 'other_currency' | 'above_receipt'

/** A gateway's refunds of one day in one currency, each a disbursement tied to its receipt. */
export interface RefundBatch {
  readonly gateway: string
  readonly date: string
  readonly currency: string
  readonly disbursements: readonly { readonly refund: string; readonly receipt: string; readonly amount: number }[]
  readonly sum: number
}

/**
 * Puts refunds together by gateway, day and currency. A refund never goes above what is left of its receipt, earlier ones of the same
 * run counted: such a one, and one whose receipt is unknown, is left out and told with what is wrong and how much is left.
 */
export const refundBatches = (
  refunds: readonly Refund[],
  receipts: readonly Receipt[],
): {
  readonly batches: readonly RefundBatch[]
  readonly refused: readonly { readonly refund: string; readonly fault: RefundFault; readonly left: number }[]
} => {
  const known = new Map(receipts.map(receipt => [receipt.id, receipt]))
  const given = new Map(receipts.map(receipt => [receipt.id, [...receipt.givenBack]]))
  const batches = new Map<string, RefundBatch>()
  const refused: { refund: string; fault: RefundFault; left: number }[] = []
  const inOrder = [...refunds].sort(
    (left, right) => compareText(left.date, right.date) || compareText(left.id, right.id),
  )
  for (const refund of inOrder) {
    const receipt = refund.receipt === null ? undefined : known.get(refund.receipt)
    const left = receipt ? refundable(receipt.amount, given.get(receipt.id) ?? []) : 0
    const fault = faultOf(refund, receipt, left)
    if (fault !== null || !receipt) {
      refused.push({ refund: refund.id, fault: fault ?? 'no_receipt', left })
      continue
    }
    given.get(receipt.id)?.push(refund.amount)
    const key = JSON.stringify([refund.date, refund.gateway, refund.currency])
    const before = batches.get(key)
    batches.set(key, {
      gateway: refund.gateway,
      date: refund.date,
      currency: refund.currency,
      disbursements: [
        ...(before?.disbursements ?? []),
        { refund: refund.id, receipt: receipt.id, amount: refund.amount },
      ],
      sum: addMinor(before?.sum ?? 0, refund.amount),
    })
  }
  return { batches: [...batches.values()], refused }
}

const faultOf = (refund: Refund, receipt: Receipt | undefined, left: number): RefundFault | null => {
  if (!receipt) return 'no_receipt'
  if (receipt.currency !== refund.currency) return 'other_currency'
  return refund.amount > left ? 'above_receipt' : null
}
