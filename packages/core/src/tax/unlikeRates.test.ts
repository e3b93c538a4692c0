import { describe, expect, it } from 'vitest'
import type { TaxCode } from './taxCode.ts'
import { taxGrid } from './taxGrid.ts'
import { unlikeRates } from './unlikeRates.ts'

const code = (rates: TaxCode['components'][number]['rates']): TaxCode => ({
  ...{
    code: 'S13',
    name: 'VAT',
    treatment: 'taxed',
    basis: 'inclusive',
    use: 'sales',
    reverseCharge: false,
    country: 'IE',
  },
  components: [{ name: 'VAT', account: '2200', inputAccount: null, compound: false, rates }],
})
const falling = code([
  { from: '2020-01-01', percent: '13.5' },
  { from: '2026-05-14', percent: '9' },
])
/** What is said of sales to Ireland of 1,000.00 that state a tax, in cents. */
const found = (stated: number, codes: readonly TaxCode[], from = '2026-04-01') => {
  const rows = [{ id: 1, source: null, kind: null, label: null, region: 'IE', class: null, from: null, code: 'S13' }]
  const seen = [
    ...[{ source: 'openhall', kind: 'sale' as const, label: null, region: 'IE', class: '', since: null, lines: 3 }],
  ].map(one => ({ ...one, amount: 100_000 + stated, stating: 100_000 + stated, stated }))
  const { lines } = taxGrid(rows, seen, { since: null, classes: [] })
  return unlikeRates(lines, { codes, from, to: '2026-06-30' })
}

describe('rates that are not those charged', () => {
  it('are told with what was charged and what the code had', () => {
    expect(found(23_000, [falling])).toEqual([
      { region: 'IE', class: '', code: 'S13', mapped: [9, 13.5], seen: 23, amount: 123_000, lines: 3 },
    ])
  })
  it('are none where the rate changed in these weeks, and what was charged lies between', () => {
    expect(found(11_000, [falling])).toEqual([])
    expect(found(11_000, [falling], '2026-06-01')).toMatchObject([{ mapped: [9, 9], seen: 11 }])
  })
  it('are none where cents hide the difference, no line states a tax, or the code is gone', () => {
    expect(found(13_900, [falling])).toEqual([])
    expect(found(0, [falling])).toMatchObject([{ seen: 0 }])
    expect(found(23_000, [])).toEqual([])
  })
})
