import { expect, it } from 'vitest'
import type { ActivityLine } from '../activity/activityLine.ts'
import { composeCost } from './composeCost.ts'

const item = (code: string, ...costs: { from: string; cost: number }[]) =>
  [code, { code, name: code, otherNames: [], account: '4000', taxCode: null, costs }] as const
const items = new Map([
  item('MUG', { from: '2026-01-01', cost: 425 }, { from: '2026-03-05', cost: 450 }),
  item('GLAZE', { from: '2026-01-01', cost: 333 }),
  item('VASE', { from: '2026-06-01', cost: 900 }),
])
let id = 0
const sold = (kind: ActivityLine['kind'], sku: string | null, quantity: string | null, localDate = '2026-03-02') => ({
  localDate,
  line: { lineId: `L${++id}`, kind, sku, quantity } as ActivityLine,
})
const compose = (lines: readonly ReturnType<typeof sold>[]) =>
  composeCost(lines, { items, accounts: { costOfSales: '5000', inventory: '1400', base: 'EUR' }, date: '2026-03-08' })

it('books quantity × cost of the day, returns with a quantity back to stock', () => {
  const { entry, without } = compose([
    sold('sale', 'MUG', '2'),
    sold('sale', 'MUG', '1', '2026-03-05'),
    sold('refund', 'MUG', '-1'),
    sold('refund', 'MUG', null),
    sold('shipping', 'MUG', '5'),
    sold('sale', null, '5'),
  ])
  // 2 × 4.25 + 4.50 − 4.25 = 8.75
  expect(entry).toMatchObject({ document: 'cost', date: '2026-03-08', currency: 'EUR' })
  expect(entry?.lines.map(line => [line.account, line.amount])).toEqual([
    ['5000', 875],
    ['1400', -875],
  ])
  expect(without).toEqual([])
})

it('rounds once per article: three thirds of a kilo are a kilo', () =>
  expect(compose(Array.from({ length: 3 }, () => sold('sale', 'GLAZE', '0.5'))).entry?.lines[0]?.amount).toBe(500))

it('says which lines it had no cost for, and makes no entry of nothing', () => {
  const { entry, without } = compose([
    sold('sale', 'NEW', '1'),
    sold('sale', 'VASE', '1'),
    sold('sale', 'MUG', null),
    sold('sale', 'MUG', 'two'),
    sold('sale', 'MUG', '1'),
    sold('refund', 'MUG', '1'),
  ])
  expect(entry).toBeNull()
  expect(without.map(({ sku, reason }) => [sku, reason])).toEqual([
    ['NEW', 'no_item'],
    ['VASE', 'no_cost'],
    ['MUG', 'no_quantity'],
    ['MUG', 'no_quantity'],
  ])
})
