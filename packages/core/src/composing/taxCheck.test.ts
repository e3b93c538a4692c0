import { describe, expect, it } from 'vitest'
import type { WeightedLine } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { madeRoute, madeSetup } from '../testing/madeSetup.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import { checkTax } from './taxCheck.ts'

const line = (kind: Kind, amount: number, more: Partial<WeightedLine> = {}): WeightedLine => ({
  source: 'openhall',
  kind,
  category: null,
  sku: null,
  location: null,
  gateway: null,
  method: null,
  taxLabel: null,
  region: null,
  localDate: '2026-03-01',
  amount,
  taxAmount: null,
  count: 1,
  ...more,
})
const week = (lines: readonly WeightedLine[]): SettlementActivity => ({
  source: 'openhall',
  currency: 'EUR',
  settlementId: 'S',
  day: null,
  head: null,
  lines,
  payouts: [],
  sumOfLines: 0,
  lastDate: '2026-03-31',
})
const setup = madeSetup({
  routes: [
    madeRoute('sale', '4000', 'IN'),
    madeRoute('sale', '4000', 'OUT', { region: 'CA' }),
    madeRoute('sale', '4010', 'FREE', { category: 'Books' }),
    madeRoute('tax', null, 'OUT'),
    madeRoute('tax', null, 'TWO', { taxLabel: 'QST' }),
    madeRoute('tax_withheld', null, 'HELD'),
    madeRoute('selling_fee', '6000', 'RC'),
    madeRoute('tip', '2310'),
  ],
})

describe('the tax check', () => {
  it('has per code and rate version the base, the tax booked and the tax it calls for', () => {
    const { codes } = checkTax(
      [
        // 123.00 with 23 % in it: 100.00 and 23.00. From the 5th on 21 %: 121.00 is 100.00 and 21.00.
        week([line('sale', 12_300), line('sale', 12_100, { localDate: '2026-03-06' })]),
        // States 20.00 in 123.00: on 103.00 at 23 % the tax would be 23.69.
        week([line('sale', 12_300, { taxAmount: 2000 }), line('selling_fee', -500), line('tip', 100)]),
      ],
      setup,
    )
    expect(codes).toEqual([
      {
        taxCode: 'IN',
        currency: 'EUR',
        version: '2020-01-01',
        percent: 23,
        base: 20_300,
        booked: 4300,
        expected: 4669,
        difference: -369,
        roundings: 2,
      },
      {
        taxCode: 'IN',
        currency: 'EUR',
        version: '2026-03-05',
        percent: 21,
        base: 10_000,
        booked: 2100,
        expected: 2100,
        difference: 0,
        roundings: 1,
      },
    ])
  })
  it('has per region and label the rate the source charged beside the rate mapped', () => {
    const { labels } = checkTax(
      [
        week([
          line('sale', 100_00, { region: 'CA-QC' }),
          line('sale', 50_00, { region: 'CA-BC' }),
          line('tax', 5_00, { region: 'CA-QC', taxLabel: 'GST' }),
          line('tax', 9_98, { region: 'CA-QC', taxLabel: 'QST', count: 2 }),
          line('tax', 6_00, { region: 'CA-BC', taxLabel: 'GST' }),
          line('sale', 11_900, { region: 'DE', taxAmount: 1900 }),
          line('tax_withheld', -5_00, { region: 'CA-QC', taxLabel: 'GST' }),
        ]),
      ],
      setup,
    )
    expect(labels).toEqual([
      {
        source: 'openhall',
        currency: 'EUR',
        region: 'CA-BC',
        taxLabel: 'GST',
        base: 50_00,
        tax: 6_00,
        lines: 1,
        seenPercent: 12,
        mapped: [{ taxCode: 'OUT', percent: 5 }],
      },
      {
        source: 'openhall',
        currency: 'EUR',
        region: 'CA-QC',
        taxLabel: 'GST',
        base: 100_00,
        tax: 5_00,
        lines: 1,
        seenPercent: 5,
        mapped: [{ taxCode: 'OUT', percent: 5 }],
      },
      {
        source: 'openhall',
        currency: 'EUR',
        region: 'CA-QC',
        taxLabel: 'QST',
        base: 100_00,
        tax: 9_98,
        lines: 2,
        seenPercent: 9.98,
        mapped: [{ taxCode: 'TWO', percent: 14.975 }],
      },
      {
        source: 'openhall',
        currency: 'EUR',
        region: 'DE',
        taxLabel: null,
        base: 100_00,
        tax: 19_00,
        lines: 1,
        seenPercent: 19,
        mapped: [{ taxCode: 'IN', percent: 23 }],
      },
    ])
  })
  it('leaves out codes that bear no tax, and lines without a route', () =>
    expect(checkTax([week([line('sale', 1000, { category: 'Books' }), line('discount', -100)])], setup)).toEqual({
      codes: [],
      labels: [],
    }))
})
