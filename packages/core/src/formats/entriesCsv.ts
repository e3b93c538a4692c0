import { formatAmount } from '../money/formatAmount.ts'
import { csvRecord } from './csvRecord.ts'

/** One entry line as entries.csv writes it. Minor units, plus is a debit. */
export interface EntryRow {
  readonly entry: string
  readonly date: string
  readonly source: string
  readonly settlementId: string
  readonly document: string
  readonly account: string
  readonly accountName: string
  readonly amount: number
  readonly currency: string
  readonly baseAmount: number
  readonly base: string
  readonly taxCode: string
  readonly segments: string
  readonly memo?: string
}

const header = [
  'entry',
  'date',
  'source',
  'settlement_id',
  'document',
  'account',
  'account_name',
  'debit',
  'credit',
  'currency',
  'base_debit',
  'base_credit',
  'tax_code',
  'segments',
]

const sides = (amount: number, currency: string): [string, string] =>
  amount === 0 ? ['', ''] : amount > 0 ? [formatAmount(amount, currency), ''] : ['', formatAmount(-amount, currency)]

/** entries.csv with a header and a last newline; the column `memo` only where `withMemo`. */
export const entriesCsv = (rows: readonly EntryRow[], withMemo = false): string =>
  [
    csvRecord(withMemo ? [...header, 'memo'] : header),
    ...rows.map(row =>
      csvRecord([
        row.entry,
        row.date,
        row.source,
        row.settlementId,
        row.document,
        row.account,
        row.accountName,
        ...sides(row.amount, row.currency),
        row.currency,
        ...sides(row.baseAmount, row.base),
        row.taxCode,
        row.segments,
        ...(withMemo ? [row.memo ?? ''] : []),
      ]),
    ),
  ].join('')
