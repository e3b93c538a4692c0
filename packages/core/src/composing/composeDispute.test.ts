import { describe, expect, it } from 'vitest'
import type { ActivityLine } from '../activity/activityLine.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import { supplyBook } from '../tax/supply.ts'
import { madeRoute } from '../testing/madeSetup.ts'
import { madeClasses, withTaxRows } from '../testing/madeSupplies.ts'
import { composeDispute } from './composeDispute.ts'

const line = (lineId: string, more: Partial<ActivityLine>): ActivityLine => ({
  ...{
    lineId,
    source: 'openhall',
    kind: 'sale',
    settlementId: null,
    occurredAt: '2026-03-01T10:00:00Z',
    instant: Date.parse('2026-03-01T10:00:00Z'),
  },
  ...{
    orderId: 'A',
    gateway: null,
    method: null,
    category: null,
    sku: null,
    description: null,
    quantity: null,
    unitPrice: null,
    location: null,
  },
  ...{
    region: 'IE',
    customer: null,
    email: null,
    shipTo: null,
    currency: 'EUR',
    amount: 12_300,
    taxAmount: null,
    taxLabel: null,
    relatedId: null,
  },
  ...{ status: 'available', availableAt: null, url: null, extra: {} },
  ...more,
})
const made = withTaxRows()
const setup = { ...made, routes: routeBook([madeRoute('refund', '4200', 'OUT'), madeRoute('chargeback', '1300')]) }
const sale = line('S', {})
const chargeback = line('C', { kind: 'chargeback', amount: -12_300, occurredAt: '2026-03-20T10:00:00Z' })
const book = supplyBook([{ ...sale, localDate: '2026-03-01' }], madeClasses)
const on = { setup, book, disputed: '1300', date: '2026-04-02', left: -12_300 }
const said = (entries: ReturnType<typeof composeDispute>['entries']) =>
  entries.map(entry => [entry.date, entry.lines.map(one => [one.account, one.taxCode, one.amount])])

describe('a disputed payment', () => {
  it('is written off to a cost, without tax, on the day it is decided', () => {
    const { blocks, entries } = composeDispute(chargeback, { as: 'written_off', account: '6900' }, on)
    expect(blocks).toEqual([])
    expect(said(entries)).toEqual([
      [
        '2026-04-02',
        [
          ['6900', '', 12_300],
          ['1300', '', -12_300],
        ],
      ],
    ])
  })

  it('is credited like a refund of its sale: by the row and the rate of the sale, which fell in between', () => {
    const { blocks, entries } = composeDispute(chargeback, { as: 'credited' }, on)
    expect(blocks).toEqual([])
    // 23 percent on 1 March, 21 from the 5th: 123.00 holds 23.00.
    expect(said(entries)).toEqual([
      [
        '2026-04-02',
        [
          ['2200', 'IN', 2300],
          ['4200', 'IN', 10_000],
          ['1300', '', -12_300],
        ],
      ],
    ])
  })

  it('is closed by what is left of it alone', () => {
    const { entries } = composeDispute(chargeback, { as: 'written_off', account: '6900' }, { ...on, left: -2300 })
    expect(said(entries)).toEqual([
      [
        '2026-04-02',
        [
          ['6900', '', 2300],
          ['1300', '', -2300],
        ],
      ],
    ])
  })

  it('is not credited while refunds have no route', () => {
    const { blocks, entries } = composeDispute(
      chargeback,
      { as: 'credited' },
      { ...on, setup: { ...setup, routes: routeBook([]) } },
    )
    expect([blocks.map(block => block.reason), entries]).toEqual([['unmapped'], []])
  })
})
