import { describe, expect, it } from 'vitest'
import { type OpenLabel, proposeMissing } from './proposeMissing.ts'
import { startingChart } from './startingCharts.ts'

const label = (kind: OpenLabel['kind'], amount: number, more: Partial<OpenLabel> = {}): OpenLabel => ({
  ...{ source: 'openhall', kind, amount, lines: 3 },
  ...more,
})
const accounts = [
  { code: '1000', name: 'Skerrymoor current', type: 'bank' },
  { code: '4000', name: 'Sales', type: 'income' },
  { code: '4010', name: 'Sales, glaze kits', type: 'income' },
  { code: '6010', name: 'Selling fees', type: 'expense' },
] as const
const starting = startingChart('IE', 'en-IE')
const missing = (labels: readonly OpenLabel[], chart: readonly (typeof accounts)[number][] = accounts) =>
  proposeMissing(labels, { accounts: chart, starting })

describe('what is missing', () => {
  it('gives kinds that belong together one account', () => {
    const [reserve, ...others] = missing([
      label('reserve_kept', -500),
      label('reserve_released', 400),
      label('reserve_kept', -90, { source: 'brookpay' }),
    ])
    expect(others).toEqual([])
    expect(reserve).toMatchObject({
      kind: 'reserve_kept',
      kinds: ['reserve_kept', 'reserve_released'],
      amount: -190,
      use: null,
      make: { code: '1170', name: 'Reserves kept by processors', type: 'current_asset' },
    })
    expect(reserve?.routes.map(({ source, kind }) => [source, kind])).toEqual([
      ['openhall', 'reserve_kept'],
      ['openhall', 'reserve_released'],
      ['brookpay', 'reserve_kept'],
    ])
  })

  it('uses what the chart has, and a category of its own only where an account is named after it', () => {
    const rows = missing([
      label('sale', 900, { category: 'Tableware' }),
      label('sale', 700, { category: 'Glaze kits' }),
      label('sale', 100, { category: 'Books' }),
    ])
    expect(rows.map(row => [row.label, row.use?.account, row.use?.sure])).toEqual([
      [null, '4000', true],
      ['Glaze kits', '4010', true],
    ])
    expect(rows[0]?.routes).toEqual([
      { source: 'openhall', kind: 'sale', category: null, gateway: null, taxLabel: null, region: null },
    ])
  })

  it('tells labels of tax apart only where the chart does', () => {
    const taxed = [
      label('tax', 300, { taxLabel: '7.25 % US-CA' }),
      label('tax_withheld', -300, { taxLabel: '7.25 % US-CA' }),
      label('tax', 100, { taxLabel: 'HST' }),
    ]
    const chart = [{ code: '2200', name: 'Sales tax', type: 'tax' }] as unknown as typeof accounts
    expect(missing(taxed, chart).map(row => [row.label, row.kinds])).toEqual([[null, ['tax', 'tax_withheld']]])
    const two = [...chart, { code: '2210', name: 'HST payable', type: 'tax' }] as unknown as typeof accounts
    expect(missing(taxed, two).map(row => [row.label, row.use?.account])).toEqual([
      [null, '2200'],
      ['HST', '2210'],
    ])
  })

  it('puts a fee that is given back where the heaviest fee goes', () => {
    const rows = missing([label('selling_fee', -300), label('fulfilment_fee', -20), label('fee_refund', 10)])
    expect(rows.map(row => row.kinds)).toEqual([['selling_fee', 'fee_refund'], ['fulfilment_fee']])
  })

  it('names and numbers what it makes as is usual there, and no number twice', () => {
    const rows = missing([label('advertising_fee', -80), label('subscription_fee', -40), label('shipping', 60)])
    expect(rows.map(row => row.make.code)).toEqual(['6100', '4100', '6200'])
    // Where the client numbers otherwise, the next after its own.
    const own = [{ code: '60-A', name: 'Costs', type: 'expense' }] as unknown as typeof accounts
    const [fee] = missing([label('advertising_fee', -80)], own)
    expect(fee?.make).toMatchObject({ name: 'Advertising', type: 'expense' })
    expect(fee?.make.code).not.toBe('60-A')
    const codes = missing(
      [label('tender', 80, { gateway: 'Oddpurse' }), label('tender', 70, { gateway: 'Thrimble' })],
      accounts,
    ).map(row => [row.make.name, row.make.type, row.make.code])
    expect(codes).toEqual([
      ['Oddpurse', 'clearing', '1010'],
      ['Thrimble', 'clearing', '1020'],
    ])
  })

  it('is nothing where nothing was seen', () => {
    expect(missing([])).toEqual([])
  })
})
