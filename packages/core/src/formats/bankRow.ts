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
