import { type RowContext, type RowFields, readRow } from './fields.ts'

/** Columns of a bank statement in CSV. */
export const bankColumns = {
  known: ['line_id', 'date', 'bank_account', 'amount', 'currency', 'description', 'reference'],
  required: ['line_id', 'date', 'bank_account', 'amount', 'currency'],
} as const
export type BankColumn = (typeof bankColumns.known)[number]

/** One movement on a bank account; plus is money in, minor units. */
export interface BankLine {
  readonly lineId: string
  /** Booking date. */
  readonly date: string
  /** As the statement names it: an account code, or the bank's own number. */
  readonly bankAccount: string
  readonly amount: number
  readonly currency: string
  readonly description: string
  readonly reference: string
  /** What the amount was before exchange and charges, as far as the statement tells; absent: nothing of it. */
  readonly details?: BankDetails
}

/** An amount before exchange and charges. Minor units of their currencies, unsigned. */
export interface BankDetails {
  readonly original?: { readonly amount: number; readonly currency: string }
  readonly charges?: readonly { readonly amount: number; readonly currency: string }[]
}

/** A later statement replaces or deletes a line of an earlier one. */
export interface BankCorrection {
  readonly bankAccount: string
  /** The line that is corrected. */
  readonly lineId: string
  readonly action: 'replace' | 'delete'
}

/** Reads one record of a bank CSV; null, with faults noted, where anything in it is wrong. */
export const readBankRow = (record: readonly string[], context: RowContext<BankColumn>): BankLine | null =>
  readRow(record, context, bankLineOf)

const bankLineOf = (fields: RowFields<BankColumn>): BankLine | null => {
  const currency = fields.currency('currency')
  fields.required('amount')
  fields.required('date')
  const amount = fields.amount('amount', currency)
  const date = fields.date('date')
  const line = {
    lineId: fields.requiredId('line_id'),
    bankAccount: fields.requiredId('bank_account'),
    description: fields.text('description') ?? '',
    reference: fields.text('reference') ?? '',
  }
  return currency === null || amount === null || date === null ? null : { ...line, currency, amount, date }
}
