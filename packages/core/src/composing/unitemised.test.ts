import { describe, expect, it } from 'vitest'
import type { ActivityLine } from '../activity/activityLine.ts'
import { classBook } from '../tax/productClass.ts'
import { supplyBook } from '../tax/supply.ts'
import { type TaxRow, taxBook } from '../tax/taxRow.ts'
import { madeRoute, madeSetup, taxCodes } from '../testing/madeSetup.ts'
import { zone } from '../testing/provedMonth.ts'
import { bookActivity } from './bookActivity.ts'
import { composeDispute } from './composeDispute.ts'
import type { Setup, SourceOptions } from './setup.ts'

const line = (lineId: string, more: Partial<ActivityLine>): ActivityLine => ({
  lineId,
  source: 'openhall',
  kind: 'sale',
  settlementId: 'S',
  instant: Date.parse('2026-02-20T12:00:00Z'),
  occurredAt: '2026-02-20T12:00:00Z',
  amount: 0,
  currency: 'EUR',
  status: 'available',
  taxAmount: null,
  ...{ orderId: 'A', gateway: null, method: null, category: null, sku: null, description: null, quantity: null },
  ...{ unitPrice: null, location: null, region: null, customer: null, email: null, shipTo: null, taxLabel: null },
  ...{ relatedId: null, availableAt: null, url: null, extra: {} },
  ...more,
})
const rows: readonly TaxRow[] = [
  { region: 'IE', class: 'zero', code: 'FREE' },
  { region: 'IE', code: 'IN' },
]
const setupOf = (options: Partial<SourceOptions>, taxRows = rows): Setup => ({
  ...madeSetup({
    options,
    routes: [madeRoute('sale', '4000'), madeRoute('refund', '4100'), madeRoute('chargeback', '1300')],
  }),
  taxCodes,
  taxRows: taxBook(taxRows),
  classes: classBook([{ category: 'Books', class: 'zero' }]),
})
// 123.00 at 23 % and 77.00 at nought.
const sold = [
  line('b', { category: 'Books', amount: 7700, region: 'IE' }),
  line('m', { category: 'Tableware', amount: 12_300, region: 'IE' }),
]
const vatIn = (lines: readonly ActivityLine[], setup: Setup): number =>
  bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 0 }, setup)
    .settlements.flatMap(one => one.composed.entries.flatMap(entry => entry.lines))
    .reduce((sum, one) => sum - (one.account === '2200' ? one.amount : 0), 0)

describe('a refund of which nobody says what it is of', () => {
  const back = line('r', { kind: 'refund', amount: -20_000, region: null, settlementId: 'R' })
  it('has the class of the sale it belongs to, or goes over all classes of its order where the source says so', () => {
    expect(vatIn(sold, setupOf({}))).toBe(2300)
    expect(vatIn([...sold, back], setupOf({}))).toBe(2300)
    expect(vatIn([...sold, back], setupOf({ refundFollows: true }))).toBe(0)
    const half = { ...back, amount: -10_000 }
    expect(vatIn([...sold, half], setupOf({ refundFollows: true }))).toBe(1150)
  })
  it('that names a product keeps its class', () => {
    const named = { ...back, category: 'Books', amount: -7700 }
    expect(vatIn([...sold, named], setupOf({ refundFollows: true }))).toBe(2300)
  })
})

it('a credited chargeback goes over all classes of its order, whatever the source’s option', () => {
  const setup = setupOf({})
  const book = supplyBook(
    sold.map(one => ({ ...one, localDate: '2026-02-20' })),
    classBook([{ category: 'Books', class: 'zero' }]),
  )
  const chargeback = line('c', { kind: 'chargeback', amount: -20_000 })
  const on = { setup, book, disputed: '1300', date: '2026-03-02', left: -20_000 }
  const { entries, blocks } = composeDispute(chargeback, { as: 'credited' }, on)
  expect(blocks).toEqual([])
  const lines = entries.flatMap(entry => entry.lines).map(one => [one.account, one.taxCode, one.amount])
  expect(lines).toEqual([
    ['2200', 'IN', 2300],
    ['4100', 'FREE', 7700],
    ['4100', 'IN', 10_000],
    ['1300', '', -20_000],
  ])
})

describe('where nothing says the place', () => {
  const till = [line('t', { amount: 12_300, orderId: null })]
  const blocked = (setup: Setup, lines = till) =>
    bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 0 }, setup).settlements.flatMap(one =>
      one.composed.blocks.map(block => block.reason),
    )
  it('a row of “-” serves only what tells no region', () => {
    const setup = setupOf({}, [{ region: '-', code: 'IN' }])
    expect(blocked(setup)).toEqual([])
    expect(vatIn(till, setup)).toBe(2300)
    expect(blocked(setup, [line('f', { amount: 100, region: 'FR' })])).toEqual(['tax_code_missing'])
  })
  it('a source’s own place stands in, for its routes and its tax', () => {
    expect(blocked(setupOf({}))).toEqual(['tax_code_missing'])
    expect(blocked(setupOf({ place: 'IE' }))).toEqual([])
    expect(vatIn(till, setupOf({ place: 'IE' }))).toBe(2300)
    // What tells a place keeps it.
    expect(blocked(setupOf({ place: 'IE' }), [line('f', { amount: 100, region: 'FR' })])).toEqual(['tax_code_missing'])
  })
})

describe('no reason hides another', () => {
  const huge = 8_000_000_000_000_000
  const many = (category: string) =>
    [1, 2].map(count => line(`${category}${count}`, { category, amount: huge, region: 'IE' }))
  const reasons = (lines: readonly ActivityLine[], setup: Setup) =>
    bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 0 }, setup)
      .settlements.flatMap(one => one.composed.blocks.map(block => block.reason))
      .sort()
  it('what is beyond the range, beside what has no route, no code, no rate or a rule', () => {
    const setup = setupOf({})
    expect(reasons(many('Tableware'), setup)).toEqual(['out_of_range'])
    const unmapped = line('u', { kind: 'selling_fee', amount: -5 })
    const noCode = line('n', { amount: 5, region: 'FR' })
    expect(reasons([...many('Tableware'), unmapped, noCode], setup)).toEqual([
      'out_of_range',
      'tax_code_missing',
      'unmapped',
    ])
    const noRate = { ...setup, base: 'USD', rates: [] }
    expect(reasons([...many('Tableware'), noCode], noRate)).toEqual(['out_of_range', 'tax_code_missing'])
    expect(reasons([line('x', { amount: 5, region: 'IE' }), noCode], noRate)).toEqual([
      'rate_missing',
      'tax_code_missing',
    ])
  })
  it('a code that does not exist, of a line without a route', () => {
    const setup = { ...setupOf({}), taxRows: taxBook([{ code: 'GONE' }]) }
    expect(reasons([line('u', { kind: 'shipping', amount: 5 })], setup)).toEqual(['tax_code_missing', 'unmapped'])
  })
})
