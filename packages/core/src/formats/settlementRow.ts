import type { SettlementHead } from '../activity/activityLine.ts'
import type { Columns } from './columns.ts'
import type { FaultList } from './fault.ts'
import { RowFields } from './fields.ts'

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
  context: { readonly columns: Columns<SettlementColumn>; readonly row: number; readonly faults: FaultList },
): SettlementHead | null => {
  const { columns, row, faults } = context
  const before = faults.count
  if (record.length !== columns.count) {
    faults.add({ row, column: null, value: `${record.length} fields`, code: 'field_count' })
    return null
  }
  const fields = new RowFields(record, columns.indexes, row, faults)
  const currency = fields.currency('currency')
  const head = {
    settlementId: fields.required('settlement_id'),
    periodStart: fields.date('period_start'),
    periodEnd: fields.date('period_end'),
    openingBalance: fields.amount('opening_balance', currency),
    closingBalance: fields.amount('closing_balance', currency),
    payoutDate: fields.date('payout_date'),
    payoutReference: fields.text('payout_reference'),
    url: fields.text('url'),
  }
  return faults.count > before || currency === null ? null : { ...head, currency }
}
