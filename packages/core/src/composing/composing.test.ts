import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ActivityLine, WeightedLine } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { zoneOf } from '../activity/zone.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import type { Route } from '../mapping/route.ts'
import { sumMinor } from '../money/minor.ts'
import type { TaxCode } from '../tax/taxCode.ts'
import { madeRoute } from '../testing/madeSetup.ts'
import { bookActivity } from './bookActivity.ts'
import { composeSettlement } from './composeSettlement.ts'
import { weightedLine } from './lineKey.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import { type Account, defaultOptions, type Setup, type SourceOptions } from './setup.ts'

const account = (code: string, type: Account['type']): Account => ({ code, name: code, type, currency: 'EUR' })
const code = (name: string, basis: TaxCode['basis'], more: Partial<TaxCode> = {}, percents = ['23']): TaxCode => ({
  code: name,
  name,
  treatment: 'taxed',
  basis,
  use: 'sales',
  reverseCharge: false,
  components: percents.map((percent, index) => ({
    name: `${index}`,
    account: `22${index}0`,
    inputAccount: '2290',
    compound: false,
    rates: [
      { from: '2020-01-01', percent },
      { from: '2026-03-05', percent: String(Number(percent) + 1) },
    ],
  })),
  ...more,
})
let nextId = 1
const route = (kind: Kind, to: string, taxCode: string | null, more: Partial<Route> = {}): Route => ({
  id: nextId++,
  kind,
  account: to,
  taxCode,
  segments: {},
  block: false,
  from: null,
  ...more,
})

const routes = [
  route('sale', '4000', 'IN'),
  route('sale', '4010', 'TWO', { category: 'Classes' }),
  route('sale', '4000', 'OUT', { region: 'DE' }),
  route('refund', '4200', 'IN'),
  route('shipping', '4100', 'IN'),
  route('tax', '4000', 'OUT'),
  route('selling_fee', '6000', 'RC'),
  route('processing_fee', '6000', 'IN'),
  route('reserve_kept', '1300', null),
  route('adjustment', '6900', null),
]
const setupWith = (options: Partial<SourceOptions>, base = 'EUR'): Setup => ({
  base,
  exchangeRounding: '7900',
  accounts: new Map(
    [
      '1210:clearing',
      '1000:bank',
      '1300:current_asset',
      '2200:tax',
      '2210:tax',
      '2290:tax',
      '4000:income',
      '4010:income',
      '4100:income',
      '4200:income',
      '6000:expense',
      '6900:expense',
      '7900:other_income',
    ].map(text => {
      const [name = '', type = ''] = text.split(':')
      return [name, account(name, type as Account['type'])]
    }),
  ),
  taxCodes: new Map(
    [
      code('IN', 'inclusive'),
      code('OUT', 'exclusive'),
      code('TWO', 'inclusive', {}, ['5', '9.975']),
      code('RC', 'none', { reverseCharge: true }),
    ].map(one => [one.code, one]),
  ),
  sources: new Map([
    [
      'openhall',
      {
        key: 'openhall',
        shape: 'combined',
        clearing: { EUR: '1210' },
        paysInto: [{ account: '1000', region: null, currency: 'EUR' }],
        drawnFrom: [{ account: '1000', region: null, currency: 'EUR' }],
        bankTexts: [],
        options: { ...defaultOptions, ...options },
      },
    ],
  ]),
  routes: routeBook(routes),
  rates: [{ date: '2026-01-01', from: 'EUR', to: 'USD', rate: '1.0837' }],
})

const anyLine = fc.record({
  kind: fc.constantFrom<Kind>(
    'sale',
    'refund',
    'shipping',
    'tax',
    'selling_fee',
    'processing_fee',
    'reserve_kept',
    'adjustment',
  ),
  category: fc.constantFrom(null, 'Classes', 'Books', 'Tableware'),
  region: fc.constantFrom(null, 'IE', 'DE', 'DE-BY'),
  amount: fc.integer({ min: -50_000, max: 50_000 }),
  taxAmount: fc.option(fc.integer({ min: -900, max: 900 })),
  day: fc.integer({ min: 1, max: 28 }),
})
const linesOf = (rows: readonly (typeof anyLine extends fc.Arbitrary<infer Row> ? Row : never)[]): WeightedLine[] =>
  rows.map(({ day, ...row }) => ({
    source: 'openhall',
    sku: null,
    location: null,
    gateway: null,
    method: null,
    taxLabel: null,
    count: 1,
    localDate: `2026-${day < 15 ? '02' : '03'}-${String(day).padStart(2, '0')}`,
    ...row,
  }))
const activityOf = (lines: readonly WeightedLine[]): SettlementActivity => ({
  source: 'openhall',
  currency: 'EUR',
  settlementId: 'S',
  day: null,
  head: null,
  lines,
  payouts: [],
  lastDate: '2026-03-31',
  sumOfLines: sumMinor(lines, line => line.amount),
})
const options = fc.record({
  splitAtMonthEnd: fc.boolean(),
  taxRounding: fc.constantFrom<'bucket' | 'line'>('bucket', 'line'),
  detail: fc.constantFrom<SourceOptions['detail']>([], ['category']),
})
const base = fc.constantFrom('EUR', 'USD')
const month = fc.array(anyLine, { minLength: 1, maxLength: 60 })

describe('a composed settlement, whatever happened in it', () => {
  it('balances in its currency and in base, and moves clearing by the lines’ sum', () => {
    fc.assert(
      fc.property(month, options, base, (rows, chosen, currency) => {
        const lines = linesOf(rows)
        const { entries, blocks } = composeSettlement(activityOf(lines), setupWith(chosen, currency))
        expect(blocks).toEqual([])
        for (const entry of entries) {
          expect(sumMinor(entry.lines, line => line.amount)).toBe(0)
          expect(sumMinor(entry.lines, line => line.baseAmount)).toBe(0)
        }
        const clearing = entries.flatMap(entry => entry.lines).filter(line => line.account === '1210')
        expect(sumMinor(clearing, line => line.amount)).toBe(sumMinor(lines, line => line.amount))
      }),
      { numRuns: 400 },
    )
  })

  it('is the same in any order of its lines, byte for byte', () => {
    fc.assert(
      fc.property(month, options, base, (rows, chosen, currency) => {
        const setup = setupWith(chosen, currency)
        const lines = linesOf(rows)
        const once = JSON.stringify(composeSettlement(activityOf(lines), setup).entries)
        expect(JSON.stringify(composeSettlement(activityOf([...lines].reverse()), setup).entries)).toBe(once)
      }),
      { numRuns: 200 },
    )
  })

  it('is the same from weighted lines as from single ones', () => {
    fc.assert(
      fc.property(month, options, (rows, chosen) => {
        const setup = setupWith(chosen)
        const lines = linesOf(rows)
        const grouped = new Map<string, WeightedLine>()
        for (const line of lines) {
          const { amount, taxAmount, count, ...values } = line
          const key = JSON.stringify([values, taxAmount === null, chosen.taxRounding === 'line' ? amount : null])
          const before = grouped.get(key)
          grouped.set(
            key,
            before
              ? {
                  ...before,
                  amount: before.amount + amount,
                  count: before.count + count,
                  taxAmount: taxAmount === null ? null : (before.taxAmount ?? 0) + taxAmount,
                }
              : line,
          )
        }
        expect(composeSettlement(activityOf([...grouped.values()]), setup).entries).toEqual(
          composeSettlement(activityOf(lines), setup).entries,
        )
      }),
      { numRuns: 300 },
    )
  })

  it('comes to the same balances split at month end or not, but for the cent per rate that each entry may round', () => {
    fc.assert(
      fc.property(month, rows => {
        const totals = (splitAtMonthEnd: boolean) => {
          const sums = new Map<string, number>()
          for (const line of composeSettlement(
            activityOf(linesOf(rows)),
            setupWith({ splitAtMonthEnd }),
          ).entries.flatMap(entry => entry.lines))
            sums.set(line.account, (sums.get(line.account) ?? 0) + line.amount)
          return sums
        }
        const [split, whole] = [totals(true), totals(false)]
        for (const name of new Set([...split.keys(), ...whole.keys()]))
          expect(Math.abs((split.get(name) ?? 0) - (whole.get(name) ?? 0))).toBeLessThanOrEqual(12)
        expect(split.get('1210') ?? 0).toBe(whole.get('1210') ?? 0)
      }),
    )
  })
})

describe('blocks', () => {
  it('names every reason with its money, and posts nothing', () => {
    const lines = linesOf([
      { kind: 'sale', category: null, region: null, amount: 1000, taxAmount: null, day: 1 },
      { kind: 'adjustment', category: null, region: null, amount: 500, taxAmount: null, day: 1 },
    ]).map((line, index) => (index === 1 ? { ...line, kind: 'tip' as const } : line))
    const composed = composeSettlement(
      {
        ...activityOf(lines),
        payouts: [{ lineId: 'p', kind: 'payout', amount: -900, localDate: '2026-03-31', region: null }],
        sumOfLines: 600,
        head: {
          settlementId: 'S',
          periodStart: null,
          periodEnd: null,
          currency: 'EUR',
          openingBalance: 0,
          closingBalance: 0,
          payoutDate: null,
          payoutReference: null,
          url: null,
        },
      },
      setupWith({}),
    )
    expect(composed.entries).toEqual([])
    expect(composed.blocks.map(({ reason, amount }) => ({ reason, amount }))).toEqual([
      { reason: 'unmapped', amount: 500 },
      { reason: 'does_not_foot', amount: -600 },
    ])
  })
  it('holds tax seen against tax expected where a tolerance is set', () => {
    const lines = linesOf([{ kind: 'sale', category: null, region: null, amount: 12_300, taxAmount: 2000, day: 1 }])
    const reasons = (taxTolerance: number | null) =>
      composeSettlement(activityOf(lines), setupWith({ taxTolerance })).blocks.map(({ reason, amount }) => [
        reason,
        amount,
      ])
    expect(reasons(null)).toEqual([])
    // 103.00 net at 23 percent calls for 23.69; 20.00 is 3.69 short.
    expect(reasons(300)).toEqual([['tax_differs', -369]])
    expect(reasons(369)).toEqual([])
  })
  it('take a code that turns tax round without a component as one that bears none', () => {
    const setup = setupWith({})
    const code = { code: 'RC0', name: 'No component', treatment: 'taxed', basis: 'none', use: 'purchases' } as const
    const taxCodes = new Map(setup.taxCodes).set('RC0', { ...code, reverseCharge: true, components: [] })
    const accounts = new Map(setup.accounts).set('6000', account('6000', 'expense'))
    const routes = routeBook([madeRoute('selling_fee', '6000', 'RC0')])
    const lines = linesOf([{ kind: 'sale', category: null, region: null, amount: -100, taxAmount: null, day: 1 }])
    const fees = lines.map(line => ({ ...line, kind: 'selling_fee' as const }))
    const { entries } = composeSettlement(activityOf(fees), { ...setup, accounts, taxCodes, routes })
    expect(entries[0]?.lines.map(line => [line.account, line.amount])).toEqual([
      ['6000', 100],
      ['1210', -100],
    ])
  })
  it('of an archived account', () => {
    const setup = setupWith({})
    const accounts = new Map(setup.accounts).set('4000', { ...account('4000', 'income'), archived: true })
    const lines = linesOf([{ kind: 'sale', category: null, region: null, amount: 100, taxAmount: null, day: 1 }])
    expect(composeSettlement(activityOf(lines), { ...setup, accounts }).blocks[0]?.reason).toBe('account_unusable')
  })
})

it('books neither pending nor failed lines', () => {
  const line = (lineId: string, status: ActivityLine['status']): ActivityLine => ({
    ...(linesOf([
      { kind: 'sale', category: null, region: null, amount: 1000, taxAmount: null, day: 1 },
    ])[0] as WeightedLine),
    lineId,
    settlementId: null,
    occurredAt: '',
    instant: Date.parse('2026-03-01T10:00:00Z'),
    orderId: null,
    description: null,
    quantity: null,
    unitPrice: null,
    customer: null,
    email: null,
    shipTo: null,
    currency: 'EUR',
    relatedId: null,
    status,
    availableAt: null,
    url: null,
    extra: {},
  })
  const booked = bookActivity(
    {
      lines: [line('a', 'available'), line('b', 'pending'), line('c', 'failed')],
      heads: new Map(),
      zone: zoneOf('Europe/Dublin'),
      cutOffMinutes: 0,
    },
    setupWith({}),
  )
  expect(booked.settlements).toHaveLength(1)
  expect(booked.settlements[0]?.activity.lines).toEqual([weightedLine(line('a', 'available'), '2026-03-01')])
})
