import { describe, expect, it } from 'vitest'
import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { addDays } from '../activity/localDate.ts'
import { bookActivity } from '../composing/bookActivity.ts'
import { defaultTiming, type Setup } from '../composing/setup.ts'
import { madeRoute, madeSetup } from '../testing/madeSetup.ts'
import { heldAt, monthOf, zone } from '../testing/provedMonth.ts'
import { missingDays, missingNumbers } from './findMissing.ts'
import { proofOfBooked } from './proofOfBooked.ts'
import { proveClearing } from './proveClearing.ts'

const routes = [
  madeRoute('sale', '4000'),
  madeRoute('refund', '4000'),
  madeRoute('selling_fee', '6000'),
  madeRoute('collected', '4010'),
  madeRoute('collected_back', '4010'),
]
const setupOf = (): Setup => ({ ...madeSetup({ routes }), timing: defaultTiming })

let nextLine = 0
const line = (
  date: string,
  kind: ActivityLine['kind'],
  amount: number,
  more: Partial<ActivityLine> = {},
): ActivityLine => ({
  lineId: `L${String(++nextLine).padStart(5, '0')}`,
  source: 'openhall',
  kind,
  settlementId: null,
  instant: Date.parse(`${date}T12:00:00Z`),
  occurredAt: `${date}T12:00:00Z`,
  amount,
  currency: 'EUR',
  status: 'available',
  taxAmount: null,
  ...{ orderId: null, gateway: null, method: null, category: null, sku: null, description: null, quantity: null },
  ...{ unitPrice: null, location: null, region: null, customer: null, email: null, shipTo: null, taxLabel: null },
  ...{ relatedId: null, availableAt: null, url: null, extra: {} },
  ...more,
})
const head = (settlementId: string, more: Partial<SettlementHead> = {}): SettlementHead => ({
  ...{ settlementId, currency: 'EUR', periodStart: '2026-03-01', periodEnd: '2026-03-07' },
  ...{ openingBalance: null, closingBalance: null, payoutDate: null, payoutReference: null, url: null },
  ...more,
})

const accounts = { openhall: '12-openhall-EUR', stall: '12-stall-EUR', counterpay: '12-counterpay-EUR' }
const prove = (
  lines: readonly ActivityLine[],
  date: string,
  {
    setup = setupOf(),
    heads = [],
    account = accounts.openhall,
  }: {
    readonly setup?: Setup
    readonly heads?: readonly SettlementHead[]
    readonly account?: string
  } = {},
) => {
  const month = monthOf(lines, setup, new Map([['openhall', heads]]))
  const proof = proveClearing(
    proofOfBooked({ account, date, reported: heldAt(lines, setup, { account, date }) }, month),
  )
  return {
    outcome: proof.outcome,
    unexplained: proof.unexplained,
    causes: Object.fromEntries(proof.causes.slice(0, -1).map(({ cause, amount }) => [cause, amount])),
    documents: proof.causes.flatMap(({ documents }) => documents.map(({ name }) => name)),
  }
}

describe('a payout on its way', () => {
  const week = [
    line('2026-03-03', 'sale', 10_000, { settlementId: 'S1' }),
    line('2026-03-07', 'payout', -10_000, { settlementId: 'S1' }),
  ]
  it('is a matter of time for ten days from its line to its transfer, and misdated beyond', () => {
    const paidOn = (payoutDate: string) => ({ heads: [head('S1', { payoutDate })] })
    expect(prove(week, '2026-03-12', paidOn('2026-03-17'))).toMatchObject({
      outcome: 'closed',
      causes: { payout_on_its_way: -10_000 },
    })
    for (const wrong of ['2026-03-18', '2026-04-21', '2027-03-07']) {
      expect(prove(week, '2026-03-12', paidOn(wrong)), wrong).toMatchObject({
        outcome: 'explained',
        causes: { misdated: -10_000 },
        unexplained: 0,
      })
      expect(prove(week, '2027-03-31', paidOn(wrong)).outcome, wrong).toBe('explained')
    }
    // Dated before its line: past in both its dates it moves nothing, and is told all the same.
    expect(prove(week, '2026-03-31', paidOn('2025-03-07'))).toMatchObject({
      outcome: 'explained',
      causes: { misdated: 0 },
    })
  })
  it('is overdue where it has not arrived after ten days, at a source that keeps it until then', () => {
    const setup = setupOf()
    const arrived: Setup = {
      ...setup,
      sources: new Map(
        [...setup.sources].map(([key, one]) => [
          key,
          { ...one, options: { ...one.options, payoutsLeaveBalance: 'arrived' as const } },
        ]),
      ),
    }
    const at = (date: string) =>
      prove(week, date, { setup: arrived, heads: [head('S1', { payoutDate: '2026-03-07' })] })
    expect(at('2026-03-17')).toMatchObject({ outcome: 'closed', causes: { payout_on_its_way: 10_000 } })
    expect(at('2026-03-18')).toMatchObject({ outcome: 'explained', causes: { overdue: 10_000 } })
    const twice = [...week, line('2026-03-07', 'payout', -10_000, { settlementId: 'S1' })]
    const told = prove(twice, '2026-03-12', { setup: arrived, heads: [head('S1')] })
    expect(told).toMatchObject({ outcome: 'explained', unexplained: 0 })
    expect(told.causes).toHaveProperty('double')
  })
  it('is likely a double of one like it, unless their references differ or one came back', () => {
    const other = (more: Partial<ActivityLine>) => [
      ...week,
      line('2026-03-04', 'sale', 10_000, { settlementId: 'S2' }),
      line('2026-03-07', 'payout', -10_000, { settlementId: 'S2', ...more }),
    ]
    const heads = (one: string | null, two: string | null) => [
      head('S1', { payoutReference: one, payoutDate: '2026-03-07' }),
      head('S2', { payoutReference: two, payoutDate: '2026-03-07' }),
    ]
    expect(prove(other({}), '2026-03-31', { heads: heads('OHP-1', 'OHP-2') }).outcome).toBe('closed')
    for (const [one, two] of [
      ['OHP-1', 'OHP-1'],
      ['OHP-1', null],
      [null, null],
    ] as const)
      expect(prove(other({}), '2026-03-31', { heads: heads(one, two) })).toMatchObject({
        outcome: 'explained',
        causes: { double: 0 },
      })
    const back = [...other({}), line('2026-03-09', 'payout_returned', 10_000, { settlementId: 'S2' })]
    expect(prove(back, '2026-03-31', { heads: heads(null, null) }).outcome).toBe('closed')
  })
})

describe('an entry dated apart from its lines', () => {
  const week = [line('2026-03-03', 'sale', 10_000, { settlementId: 'S1' })]
  it('is after the cut-off for 35 days, and misdated beyond, or more than a day before a line', () => {
    const ends = (periodEnd: string) => ({ heads: [head('S1', { periodEnd })] })
    expect(prove(week, '2026-03-20', ends('2026-04-07'))).toMatchObject({
      outcome: 'closed',
      causes: { after_cut_off: 10_000 },
    })
    expect(prove(week, '2026-03-20', ends('2026-03-02')).outcome).toBe('closed')
    for (const wrong of ['2026-04-08', '2027-03-07', '2026-03-01', '2025-03-07'])
      expect(prove(week, '2026-03-20', ends(wrong)), wrong).toMatchObject({ outcome: 'explained', unexplained: 0 })
    expect(prove(week, '2026-03-20', ends('2026-04-08')).causes).toEqual({ misdated: 10_000 })
  })
  it('has no age without the key', () => {
    const { timing: _, ...setup } = setupOf()
    expect(prove(week, '2026-03-20', { setup, heads: [head('S1', { periodEnd: '2027-03-07' })] }).outcome).toBe(
      'closed',
    )
  })
})

describe('what is missing', () => {
  const days = Array.from({ length: 60 }, (_, day) => addDays('2026-03-02', day))
  it('is a day between others on a weekday that was busy four times of the last five, before the date of the proof', () => {
    const lines = (all: readonly string[]) => all.map(day => line(day, 'sale', 500, { source: 'stall' }))
    const left = days.filter(day => day !== '2026-04-15')
    const at = (date: string) => prove(lines(left), date, { account: accounts.stall })
    expect(prove(lines(days), '2026-04-30', { account: accounts.stall }).outcome).toBe('closed')
    expect(at('2026-04-15').outcome).toBe('closed')
    expect(at('2026-04-16')).toMatchObject({ outcome: 'explained', unexplained: 0, documents: ['stall 2026-04-15'] })
    // Four of five: one quiet week before changes nothing, two do.
    expect(missingDays(left.filter(day => day !== '2026-04-01'))).toContain('2026-04-15')
    expect(missingDays(left.filter(day => day !== '2026-04-01' && day !== '2026-04-08'))).not.toContain('2026-04-15')
  })
  it('is a number left out where they count by ones, and never a day written as a number', () => {
    const [a, c] = [
      ['OH-2621', '2026-03-01'],
      ['OH-2623', '2026-03-15'],
    ].map(([id, start]) =>
      head(id as string, { periodStart: start as string, periodEnd: addDays(start as string, 6) }),
    ) as [SettlementHead, SettlementHead]
    const lines = [a, c].map(one => line(one.periodStart as string, 'sale', 100, { settlementId: one.settlementId }))
    expect(prove(lines, '2026-03-31', { heads: [a, c] })).toMatchObject({
      outcome: 'explained',
      documents: ['OH-2622'],
    })
    expect(prove(lines, '2026-03-10', { heads: [a, c] }).documents).not.toContain('OH-2622')
    for (const ids of [
      ['20260301', '20260303'],
      ['TS-20260331', 'TS-20260402'],
      ['2026-03-30', '2026-03-28'],
      ['31032026', '29032026'],
      ['30.03.2026', '28.03.2026'],
      ['W-10', 'W-20', 'W-30'],
    ])
      expect(missingNumbers(ids), ids.join()).toEqual([])
    expect(missingNumbers(['2026-11', '2026-12', '2026-14'])).toEqual(['2026-13'])
  })
})

describe('an order of a channel', () => {
  const sale = line('2026-03-03', 'sale', 6150, { source: 'stall', orderId: 'A-1' })
  const tender = line('2026-03-03', 'tender', -6150, { source: 'stall', orderId: 'A-1', gateway: 'counterpay' })
  const collected = line('2026-03-04', 'collected', 6150, { source: 'counterpay', orderId: 'A-1' })
  const other = [
    line('2026-03-03', 'sale', 900, { source: 'stall', orderId: 'A-2' }),
    line('2026-03-03', 'tender', -900, { source: 'stall', orderId: 'A-2', gateway: 'counterpay' }),
    line('2026-03-04', 'collected', 900, { source: 'counterpay', orderId: 'A-2' }),
  ]
  const blocksOf = (lines: readonly ActivityLine[], setup: Setup = setupOf()) =>
    bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 0 }, setup).settlements.flatMap(({ composed }) =>
      composed.blocks.map(({ reason, amount, orders }) => [reason, amount, orders?.map(one => one.order).join()]),
    )
  it('whose tender was lost holds up what its gateway collected, and keeps its own account from being closed', () => {
    expect(blocksOf([sale, tender, collected, ...other])).toEqual([])
    expect(blocksOf([sale, collected, ...other])).toEqual([['order_open', 6150, 'A-1']])
    const { timing: _, ...ageless } = setupOf()
    expect(blocksOf([sale, collected, ...other], ageless)).toEqual([])
    const at = (date: string) => prove([sale, collected, ...other], date, { account: accounts.stall })
    expect(at('2026-03-17').outcome).toBe('closed')
    expect(at('2026-03-18')).toMatchObject({ outcome: 'explained', unexplained: 0, documents: ['A-1'] })
  })
  it('is another sale where the amount, the currency or more than seven days lie between', () => {
    for (const unlike of [{ amount: 6151 }, { currency: 'USD' }, { instant: Date.parse('2026-03-11T12:00:00Z') }])
      expect(blocksOf([sale, { ...collected, ...unlike }, ...other]), JSON.stringify(unlike)).toEqual([])
    expect(blocksOf([sale, { ...collected, instant: Date.parse('2026-03-10T12:00:00Z') }, ...other])).toHaveLength(1)
  })
  it('that was tendered or collected twice at one instant is a likely double', () => {
    const twice = (again: ActivityLine) => [sale, tender, collected, ...other, { ...again, lineId: 'X' }]
    expect(prove(twice(tender), '2026-03-04', { account: accounts.stall }).causes).toHaveProperty('double')
    expect(prove(twice(collected), '2026-03-04', { account: accounts.counterpay }).causes).toHaveProperty('double')
    expect(prove([sale, tender, collected, ...other], '2026-03-31', { account: accounts.counterpay }).outcome).toBe(
      'closed',
    )
  })
})
