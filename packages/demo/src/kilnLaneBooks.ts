import type { OpeningLine, TaxPayment } from './taxPayments.ts'

/** Kiln Lane's books begin where those of before ended. */
export const openedOn = '2025-12-28'
export const opening: readonly OpeningLine[] = [
  { account: '1000', amount: 682_040 },
  { account: '1500', amount: 940_000 },
  { account: '2200', amount: -291_406 },
  { account: '2220', amount: -38_712 },
  { account: '3000', amount: -1_291_922 },
]

const home = { agency: 'Irish tax office', accounts: ['2200', '2210'] }
const abroad = { agency: 'One-stop scheme for other EU countries', accounts: ['2220'] }

/** Filed and paid before the demo begins. The amounts are the ledger's: loading stops where they are not. */
export const taxPayments: readonly TaxPayment[] = [
  { ...home, from: '2025-11-01', to: '2025-12-31', on: '2026-01-19', text: 'TAX OFFICE VAT NOV DEC', amount: 332_917 },
  { ...abroad, from: '2025-10-01', to: '2025-12-31', on: '2026-01-30', text: 'TAX OFFICE EU VAT Q4', amount: 51_511 },
  { ...home, from: '2026-01-01', to: '2026-02-28', on: '2026-03-19', text: 'TAX OFFICE VAT JAN FEB', amount: 880_136 },
  { ...abroad, from: '2026-01-01', to: '2026-03-31', on: '2026-04-30', text: 'TAX OFFICE EU VAT Q1', amount: 456_542 },
  { ...home, from: '2026-03-01', to: '2026-04-30', on: '2026-05-19', text: 'TAX OFFICE VAT MAR APR', amount: 918_304 },
]
