import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ActivityLine } from '../activity/activityLine.ts'
import { isSupply } from '../activity/kindTraits.ts'
import { zoneOf } from '../activity/zone.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import { supplyBook } from '../tax/supply.ts'
import { type TaxRow, taxBook } from '../tax/taxRow.ts'
import { madeMonths, madeOptions, seed } from '../testing/madeMonths.ts'
import { madeRoutes, madeSetup, taxCodes } from '../testing/madeSetup.ts'
import { madeClasses as classes, monthsThatGoBack, withTaxRows } from '../testing/madeSupplies.ts'
import { bookActivity } from './bookActivity.ts'
import type { DraftEntry } from './draft.ts'
import { weightedLine } from './lineKey.ts'
import type { Setup } from './setup.ts'
import { supplyParts } from './supplyParts.ts'

const zone = zoneOf('Europe/Dublin')
const book = (lines: readonly ActivityLine[], setup: Setup) =>
  bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 270 }, setup)
const entriesOf = (lines: readonly ActivityLine[], setup: Setup): DraftEntry[] =>
  book(lines, setup).settlements.flatMap(one => one.composed.entries)
const runs = (numRuns: number) => ({ numRuns, seed })

const bytes = (entries: readonly DraftEntry[]): string =>
  JSON.stringify(entries.map(entry => JSON.stringify(entry)).sort())

describe(`tax decided by rows, over made months (seed ${seed})`, () => {
  it('balances, and the parts of a line are the line', () => {
    let parted = 0
    fc.assert(
      fc.property(monthsThatGoBack, madeOptions, (lines, options) => {
        const setup = withTaxRows({ options })
        const dated = lines.map(line => ({ ...line, localDate: zone.localDate(line.instant) }))
        const known = supplyBook(
          dated.filter(line => line.status === 'available'),
          classes,
        )
        for (const line of dated) {
          const source = setup.sources.get(line.source)
          if (!source) continue
          const parts = supplyParts(line, weightedLine(line, line.localDate), { book: known, setup, source })
          if (parts.length > 1) parted++
          expect(parts.reduce((sum, part) => sum + part.amount, 0)).toBe(line.amount)
          expect(parts.reduce((sum, part) => sum + (part.taxAmount ?? 0), 0)).toBe(line.taxAmount ?? 0)
          if (!isSupply(line.kind)) expect(parts).toEqual([weightedLine(line, line.localDate)])
        }
        const booked = book(lines, setup)
        expect(booked.settlements.flatMap(one => one.composed.blocks)).toEqual([])
        for (const { composed } of booked.settlements)
          for (const entry of composed.entries) expect(entry.lines.reduce((sum, line) => sum + line.amount, 0)).toBe(0)
      }),
      runs(300),
    )
    expect(parted).toBeGreaterThan(100)
  })

  it('does not hang on the order in which lines arrive', () => {
    fc.assert(
      fc.property(monthsThatGoBack, fc.nat(), (lines, turn) => {
        const at = turn % lines.length
        const turned = [...lines.slice(at), ...lines.slice(0, at)].reverse()
        expect(bytes(entriesOf(turned, withTaxRows()))).toBe(bytes(entriesOf(lines, withTaxRows())))
      }),
      runs(200),
    )
  })

  it('is that of a route where all rows give its code', () => {
    fc.assert(
      fc.property(madeMonths({ maxLength: 60 }), madeOptions, (lines, options) => {
        // One rate ever, so that whose date counts does not matter.
        const coded = madeRoutes.map(route =>
          isSupply(route.kind) ? { ...route, item: null, account: route.account ?? '4000', taxCode: 'TWO' } : route,
        )
        const plain = coded.map(route =>
          isSupply(route.kind) ? { ...route, taxCode: route.id % 2 ? 'IN' : null } : route,
        )
        const setup = madeSetup({ options })
        const byRoute = { ...setup, routes: routeBook(coded) }
        const byRow = {
          ...setup,
          routes: routeBook(plain),
          classes,
          taxRows: taxBook([{ code: 'TWO' }, { class: 'book', code: 'TWO' }]),
        }
        expect(bytes(entriesOf(lines, byRow))).toBe(bytes(entriesOf(lines, byRoute)))
      }),
      runs(200),
    )
  })

  it('of a sale and its refund, each in its own settlement and month, comes to nothing', () => {
    const [sale] = fc.sample(madeMonths({ minLength: 1, maxLength: 1 }), { numRuns: 1, seed }).flat() as [ActivityLine]
    const amounts = fc.integer({ min: 1, max: 5_000_000 })
    fc.assert(
      fc.property(
        amounts,
        fc.constantFrom('IE', 'CA', 'CA-BC'),
        fc.constantFrom('Books', 'Tableware'),
        (amount, region, category) => {
          const sold: ActivityLine = {
            ...sale,
            lineId: 'S',
            kind: 'sale',
            source: 'openhall',
            settlementId: 'M1',
            status: 'available',
            currency: 'EUR',
            instant: Date.parse('2026-02-20T12:00:00Z'),
            sku: null,
            taxLabel: null,
            taxAmount: null,
            orderId: 'A',
            category,
            region,
            amount,
          }
          const back: ActivityLine = {
            ...sold,
            lineId: 'R',
            kind: 'refund',
            settlementId: 'M2',
            instant: Date.parse('2026-03-20T12:00:00Z'),
            region: null,
            category: null,
            amount: -amount,
          }
          // The same account takes both; IN falls from 23 to 21 between them.
          const routes = routeBook([
            ...madeRoutes.filter(route => route.kind !== 'sale' && route.kind !== 'refund'),
            ...(['sale', 'refund'] as const).map((kind, id) => ({
              id: 9000 + id,
              kind,
              account: '4000',
              taxCode: null,
              segments: {},
              block: false,
              from: null,
            })),
          ])
          const sums = new Map<string, number>()
          for (const entry of entriesOf([sold, back], { ...withTaxRows(), routes }))
            for (const { account, amount: moved } of entry.lines) sums.set(account, (sums.get(account) ?? 0) + moved)
          expect([...sums.values()].filter(sum => sum !== 0)).toEqual([])
        },
      ),
      runs(300),
    )
  })
})

describe('tax that is taken back in part', () => {
  const codes = new Map(
    [...taxCodes].map(([name, code]) => [
      name,
      code.use === 'purchases' ? { ...code, recovery: [{ from: '2026-03-01', percent: '37.5' }] } : code,
    ]),
  )
  const line = (lineId: string, kind: ActivityLine['kind'], amount: number, day: string): ActivityLine => ({
    ...(fc.sample(madeMonths({ minLength: 1, maxLength: 1 }), { numRuns: 1, seed }).flat()[0] as ActivityLine),
    lineId,
    kind,
    source: 'openhall',
    settlementId: lineId,
    status: 'available',
    currency: 'EUR',
    taxAmount: null,
    taxLabel: null,
    instant: Date.parse(`${day}T12:00:00Z`),
    amount,
  })
  const moved = (one: ActivityLine) => {
    const [entry] = entriesOf([one], { ...madeSetup({}), taxCodes: codes })
    return Object.fromEntries((entry?.lines ?? []).map(({ account, amount }) => [account, amount]))
  }

  it('leaves the rest with the cost: within the price, and of both sides of reverse charge', () => {
    // 121.00 hold 21.00 from 5 March on; 37.5 % of it is 7.875, so 7.88, and 13.12 stays with 100.00.
    expect(moved(line('a', 'advertising_fee', -12_100, '2026-03-10'))).toMatchObject({ 2200: 788, 6100: 11_312 })
    // Before the first version all of it: 123.00 hold 23.00.
    expect(moved(line('b', 'advertising_fee', -12_300, '2026-02-20'))).toMatchObject({ 2200: 2300, 6100: 10_000 })
    // 40.00 by reverse charge owe 8.40; 3.15 come back, 5.25 stay with the cost.
    expect(moved(line('c', 'selling_fee', -4000, '2026-03-10'))).toMatchObject({ 2200: -840, 2290: 315, 6000: 4525 })
    // And a fee given back, the other way round.
    expect(moved(line('d', 'fee_refund', 4000, '2026-03-10'))).toMatchObject({ 2200: 840, 2290: -315, 6000: -4525 })
  })

  it('adds up to the whole tax and the whole line, whatever the amount', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -9_999_999, max: 9_999_999 }),
        fc.constantFrom('advertising_fee' as const, 'selling_fee' as const),
        (amount, kind) => {
          const sums = moved(line('x', kind, amount, '2026-03-10'))
          expect(Object.values(sums).reduce((total, one) => total + one, 0)).toBe(0)
          const net = Math.abs(sums[kind === 'selling_fee' ? '6000' : '6100'] ?? 0)
          const taken = Math.abs(sums[kind === 'selling_fee' ? '2290' : '2200'] ?? 0)
          const owed = kind === 'selling_fee' ? Math.abs(sums['2200'] ?? 0) : 0
          expect(net + taken).toBe(Math.abs(amount) + owed)
          // At most half a cent from the exact share.
          const tax = kind === 'selling_fee' ? owed : Math.round((Math.abs(amount) * 21) / 121)
          expect(Math.abs(taken - tax * 0.375)).toBeLessThanOrEqual(0.5)
        },
      ),
      runs(2000),
    )
  })
})

describe('what lacks a row', () => {
  const base = fc.sample(madeMonths({ minLength: 1, maxLength: 1 }), { numRuns: 1, seed }).flat()[0] as ActivityLine
  const line = (
    lineId: string,
    kind: ActivityLine['kind'],
    amount: number,
    more: Partial<ActivityLine> = {},
  ): ActivityLine => ({
    ...base,
    lineId,
    kind,
    amount,
    source: 'openhall',
    settlementId: 'S',
    status: 'available',
    currency: 'EUR',
    orderId: '1',
    sku: null,
    category: null,
    region: 'IE',
    taxLabel: null,
    taxAmount: null,
    relatedId: null,
    instant: Date.parse('2026-03-10T12:00:00Z'),
    ...more,
  })
  const blocks = (
    lines: readonly ActivityLine[],
    taxRows: readonly TaxRow[],
    without: readonly ActivityLine['kind'][] = [],
  ) => {
    const setup = withTaxRows({}, taxRows)
    const routes = routeBook(madeRoutes.filter(route => !without.includes(route.kind)))
    return book(lines, { ...setup, routes }).settlements.flatMap(({ composed }) =>
      composed.blocks.map(block => [block.reason, block.amount, block.concerned.map(one => one.count)]),
    )
  }

  it('is named with its money, also where it has no route, and whole where a part of it lacks one', () => {
    const lines = [
      line('s1', 'sale', 6000),
      line('s2', 'sale', 4000, { category: 'Books' }),
      line('p', 'shipping', 695),
      line('f', 'selling_fee', -400, { orderId: null }),
    ]
    expect(blocks(lines, [{ code: 'IN' }])).toEqual([])
    expect(blocks(lines, [{ code: 'IN' }, { class: 'book', code: null }])).toEqual([])
    // Books have no row: the book of 40.00, and all of the postage, once.
    expect(
      blocks(lines, [
        { class: 'other', code: 'IN' },
        { region: 'IE', kind: 'sale', code: 'IN' },
      ]),
    ).toEqual([['tax_code_missing', 695, [1]]])
    expect(blocks(lines, [])).toEqual([['tax_code_missing', 10_695, [1, 1, 1]]])
    expect(blocks(lines, [], ['sale', 'shipping'])).toEqual([
      ['unmapped', 10_695, [1, 1, 1]],
      ['tax_code_missing', 10_695, [1, 1, 1]],
    ])
    expect(blocks(lines, [{ code: 'GONE' }])).toEqual([['tax_code_missing', 10_695, [1, 1, 1]]])
  })

  it('is not decided by the route’s code, nor by the item’s; a rule goes before the rows', () => {
    const mug = line('m', 'sale', 12_300, { sku: 'MUG' })
    expect(blocks([mug], [])).toEqual([['tax_code_missing', 12_300, [1]]])
    const ruled = {
      ...withTaxRows({}, []),
      rules: [
        {
          id: 1,
          conditions: [{ field: 'sku', is: 'equal', value: 'MUG' }],
          actions: [{ set: 'tax_code', taxCode: null }],
        },
      ],
    } as Setup
    expect(entriesOf([mug], ruled).flatMap(entry => entry.lines.map(one => [one.account, one.amount]))).toEqual([
      ['12-openhall-EUR', 12_300],
      ['4010', -12_300],
    ])
  })

  it('splits a stated tax by what each part’s code would bear', () => {
    const lines = [
      line('s1', 'sale', 5000),
      line('s2', 'sale', 5000, { category: 'Books' }),
      line('p', 'shipping', 1000, { taxAmount: 87 }),
    ]
    // Half of the postage goes with the books, which bear nothing: the stated 0.87 is all of the other half's.
    const entry = entriesOf(lines, withTaxRows({}, [{ code: 'IN' }, { class: 'book', code: 'FREE' }]))[0]
    const shipping = entry?.lines.filter(one => one.account === '4100').map(one => [one.taxCode, one.amount])
    expect(shipping).toEqual([
      ['FREE', -500],
      ['IN', -413],
    ])
    // Where no part bears any, as the amounts.
    const free = entriesOf(lines, withTaxRows({}, [{ code: 'FREE' }]))[0]
    expect(free?.lines.filter(one => one.account === '4100').map(one => one.amount)).toEqual([-1000])
  })
})
