import type { SettlementHead } from '../activity/activityLine.ts'
import { type RowContext, type RowFields, readRow } from './fields.ts'

/** Columns of settlements.csv. */
export const settlementColumns = {
  known: [
    'settlement_id',
    'period_start',
    'period_end',
    'currency',
    'opening_balance',
    'closing_balance',
    'payout_date',
    'payout_reference',
    'url',
  ],
  required: ['settlement_id', 'currency'],
} as const
export type SettlementColumn = (typeof settlementColumns.known)[number]

/** Reads one record of settlements.csv; null, with faults noted, where anything in it is wrong. */
export const readSettlementRow = (
  record: readonly string[],
  context: RowContext<SettlementColumn>,
): SettlementHead | null => readRow(record, context, headOf)

const headOf = (fields: RowFields<SettlementColumn>): SettlementHead | null => {
  const currency = fields.currency('currency')
  const head = {
    settlementId: fields.requiredId('settlement_id'),
    periodStart: fields.date('period_start'),
    periodEnd: fields.date('period_end'),
    openingBalance: fields.amount('opening_balance', currency),
    closingBalance: fields.amount('closing_balance', currency),
    payoutDate: fields.date('payout_date'),
    payoutReference: fields.text('payout_reference'),
    url: fields.text('url'),
  }
  return currency === null ? null : { ...head, currency }
}
