import { isDate } from '../activity/localDate.ts'
import { type RowContext, type RowFields, readRow } from './fields.ts'

/** Columns of balances.csv: what the processor says it holds. */
export const balanceColumns = {
  known: ['source', 'currency', 'at', 'available', 'pending', 'reserve'],
  required: ['currency', 'at', 'available'],
} as const
export type BalanceColumn = (typeof balanceColumns.known)[number]

/** A processor's balance at a local date (its end), minor units. */
export interface ReportedBalance {
  readonly currency: string
  readonly date: string
  readonly available: number
  readonly pending: number
  readonly reserve: number
}

/** Reads one record of balances.csv for `source`; null, with faults noted, where anything in it is wrong. */
export const readBalanceRow = (
  record: readonly string[],
  context: RowContext<BalanceColumn> & { readonly source: string },
): ReportedBalance | null => readRow(record, context, fields => balanceOf(fields, context.source))

const balanceOf = (fields: RowFields<BalanceColumn>, wanted: string): ReportedBalance | null => {
  const source = fields.text('source')
  if (source !== null && source !== wanted) fields.fault('source', source, 'other_source')
  const currency = fields.currency('currency')
  const at = fields.required('at')
  const match = /^(\d{4}-\d\d-\d\d)(?:[T ](?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d)?)?$/.exec(at)
  const date = match?.[1] ?? ''
  if (at !== '' && !isDate(date)) fields.fault('at', at, 'not_a_date')
  fields.required('available')
  const available = fields.amount('available', currency)
  const pending = fields.amount('pending', currency) ?? 0
  const reserve = fields.amount('reserve', currency) ?? 0
  if (currency === null || available === null || !isDate(date)) return null
  return { currency, date, available, pending, reserve }
}
