import { formatAmount } from '@culvert/core'
import type { Row } from './openhall.ts'

/** An account and what it held, minor units: plus is a debit. */
export interface OpeningLine {
  readonly account: string
  readonly amount: number
}

/** What was owed for a tax period, as the ledger has it at its end, and when it was paid. */
export interface TaxPayment {
  readonly agency: string
  readonly from: string
  readonly to: string
  /** Day of filing and of payment. */
  readonly on: string
  /** Words of the bank. */
  readonly text: string
  /** What is owed stands on these together; it is paid from the first. */
  readonly accounts: readonly string[]
  /** Minor units. */
  readonly amount: number
}

/** What the bank says of them; ids begin with `prefix`. */
export const taxBankLines = (
  payments: readonly TaxPayment[],
  of: { readonly prefix: string; readonly account: string; readonly currency: string },
): Row[] =>
  payments.map(({ on, text, amount }, index) => ({
    line_id: `${of.prefix}${String(index + 1).padStart(2, '0')}`,
    date: on,
    bank_account: of.account,
    amount: formatAmount(-amount, of.currency),
    currency: of.currency,
    description: text,
    reference: '',
  }))
