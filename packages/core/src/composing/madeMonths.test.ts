import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ActivityLine, WeightedLine } from '../activity/activityLine.ts'
import { isPayout, isStock } from '../activity/kindTraits.ts'
import { zoneOf } from '../activity/zone.ts'
import { addMinor } from '../money/minor.ts'
import { madeMonths, madeOptions, oneDay, seed } from '../testing/madeMonths.ts'
import { currencies, madeSetup } from '../testing/madeSetup.ts'
import { type BookedActivity, bookActivity } from './bookActivity.ts'
import { composeAccrual } from './composeAccrual.ts'
import { composeCorrection } from './composeCorrection.ts'
import { composeSettlement } from './composeSettlement.ts'
import type { DraftEntry, DraftLine } from './draft.ts'
import { lineKey, weightedLine } from './lineKey.ts'
import { resolveLine, tenderAccount } from './resolveLine.ts'
import type { Setup } from './setup.ts'
import { statementRows } from './statementRows.ts'

const zone = zoneOf('Europe/Dublin')
const book = (lines: readonly ActivityLine[], setup: Setup): BookedActivity =>
  bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 270 }, setup)
const base = fc.constantFrom(...currencies)
const runs = (numRuns: number) => ({ numRuns, seed })

const entriesOf = (booked: BookedActivity): DraftEntry[] => booked.settlements.flatMap(one => one.composed.entries)
/** Entries under their settlements' names, in an order that does not depend on the lines'. */
const bytesOf = (booked: BookedActivity): string =>
  JSON.stringify(
    booked.settlements
      .map(
        ({ name, activity, composed }) =>
          [`${name} ${activity.source} ${activity.currency}`, composed.entries] as const,
      )
      .sort(([left], [right]) => (left < right ? -1 : 1))
      .map(([name, entries]) => [
        name,
        [...entries].sort((left, right) => ((left.payoutLine ?? '') < (right.payoutLine ?? '') ? -1 : 1)),
      ]),
  )
const balancesOf = (lines: readonly DraftLine[], currency = ''): Map<string, [number, number]> => {
  const sums = new Map<string, [number, number]>()
  for (const { account, amount, baseAmount } of lines) {
    const [before, baseBefore] = sums.get(account + currency) ?? [0, 0]
    sums.set(account + currency, [addMinor(before, amount), addMinor(baseBefore, baseAmount)])
  }
  for (const [key, [amount, inBase]] of sums) if (amount === 0 && inBase === 0) sums.delete(key)
  return sums
}
const sorted = (sums: ReadonlyMap<string, [number, number]>) =>
  [...sums].sort(([left], [right]) => (left < right ? -1 : 1))

describe(`months of every kind, currency and option (seed ${seed})`, () => {
  it('balance in their currency and in base, in every entry, and nothing blocks', () => {
    let entries = 0
    fc.assert(
      fc.property(madeMonths({ maxLength: 70 }), madeOptions, base, (lines, options, inBase) => {
        const booked = book(lines, madeSetup({ options, base: inBase }))
        expect(booked.settlements.flatMap(one => one.composed.blocks)).toEqual([])
        for (const entry of entriesOf(booked)) {
          entries++
          expect(entry.lines.reduce((sum, line) => sum + line.amount, 0)).toBe(0)
          expect(entry.lines.reduce((sum, line) => sum + line.baseAmount, 0)).toBe(0)
          if (entry.currency === inBase) expect(entry.lines.every(line => line.amount === line.baseAmount)).toBe(true)
        }
      }),
      runs(400),
    )
    expect(entries).toBeGreaterThan(5000)
  })

  it('have a statement whose rows are their lines, and that says where each went', () => {
    fc.assert(
      fc.property(madeMonths({ maxLength: 60 }), madeOptions, (lines, options) => {
        for (const { activity, composed } of book(lines, madeSetup({ options })).settlements) {
          const rows = statementRows({ activity, matched: [] }, composed, composed.entries)
          const told = [...activity.lines, ...activity.payouts].reduce((sum, line) => sum + line.amount, 0)
          expect(rows.reduce((sum, row) => sum + row.amount, 0)).toBe(told)
          const places = composed.entries.reduce((count, entry) => count + entry.lines.length, 0)
          for (const { to } of rows) expect(to.every(place => place >= 0 && place < places)).toBe(true)
        }
      }),
      runs(200),
    )
  })

  it('move each clearing account by the sum of the lines that concern it', () => {
    fc.assert(
      fc.property(madeMonths({ maxLength: 70 }), madeOptions, (lines, options) => {
        const setup = madeSetup({ options })
        const booked = book(lines, setup)
        const ledger = balancesOf(entriesOf(booked).flatMap(entry => entry.lines))
        const wanted = new Map<string, number>()
        const add = (account: string, amount: number) => wanted.set(account, (wanted.get(account) ?? 0) + amount)
        for (const line of lines) {
          const source = setup.sources.get(line.source)
          if (line.status !== 'available' || !source || booked.matched.has(lineKey(line))) continue
          const weighted = weightedLine(line, zone.localDate(line.instant))
          const elsewhere = resolveLine(weighted, setup, source, line.currency).elsewhere && !isPayout(line.kind)
          if (isStock(line.kind) || elsewhere) continue
          add(source.clearing[line.currency] as string, line.amount)
          const gateway = tenderAccount(weighted, setup, line.currency)
          if (gateway) add(gateway, -line.amount)
        }
        for (const [account, amount] of wanted)
          expect([account, ledger.get(account)?.[0] ?? 0]).toEqual([account, amount])
      }),
      runs(300),
    )
  })

  it('are the same in any order of the lines, and a second time, byte for byte', () => {
    fc.assert(
      fc.property(
        madeMonths({ maxLength: 40 }).chain(lines =>
          fc.tuple(fc.constant(lines), fc.shuffledSubarray([...lines], { minLength: lines.length })),
        ),
        madeOptions,
        base,
        ([lines, shuffled], options, inBase) => {
          const setup = madeSetup({ options, base: inBase })
          const once = bytesOf(book(lines, setup))
          expect(bytesOf(book(shuffled, setup))).toBe(once)
          expect(bytesOf(book(lines, madeSetup({ options, base: inBase })))).toBe(once)
        },
      ),
      runs(200),
    )
  })

  it('are the same from lines added up as from single ones', () => {
    let merged = 0
    fc.assert(
      fc.property(madeMonths({ maxLength: 60 }), madeOptions, base, (lines, options, inBase) => {
        const setup = madeSetup({ options, base: inBase })
        for (const { activity, composed } of book([...lines, ...twins(lines)], setup).settlements) {
          const grouped = addUp(activity.lines, options.taxRounding === 'line')
          merged += activity.lines.length - grouped.length
          expect(composeSettlement({ ...activity, lines: grouped }, setup).entries).toEqual(composed.entries)
        }
      }),
      runs(200),
    )
    expect(merged).toBeGreaterThan(1000)
  })

  it('end at the same balances when revisions come later, as corrections, as if they had come first', () => {
    let corrections = 0
    const revision = fc.record({
      amount: fc.option(fc.integer({ min: -9999, max: 9999 })),
      category: fc.constantFrom('Books', 'Tableware', null),
      status: fc.constantFrom('available' as const, 'failed' as const),
      days: fc.integer({ min: -20, max: 20 }),
    })
    fc.assert(
      fc.property(
        madeMonths({ maxLength: 30 }),
        fc.array(fc.array(fc.tuple(fc.nat(), revision), { maxLength: 6 }), { minLength: 1, maxLength: 3 }),
        madeOptions,
        base,
        (given, rounds, options, inBase) => {
          const setup = madeSetup({ options, base: inBase })
          let lines: readonly ActivityLine[] = given.map(line => ({ ...line, orderId: null, settlementId: 'S1' }))
          const posted = new Map<string, DraftLine[]>()
          for (const round of [[], ...rounds]) {
            lines = revise(lines, round)
            for (const [key, entries] of journalsByKey(book(lines, setup))) {
              const before = posted.get(key) ?? []
              const correction = composeCorrection(entries, before, { date: '2026-05-01', currency: key.slice(-3) })
              if (before.length > 0 && correction) corrections++
              if (correction) {
                expect(correction.lines.reduce((sum, line) => sum + line.amount, 0)).toBe(0)
                expect(correction.lines.reduce((sum, line) => sum + line.baseAmount, 0)).toBe(0)
              }
              posted.set(key, [...before, ...(correction?.lines ?? [])])
            }
          }
          for (const [key, entries] of journalsByKey(book(lines, setup)))
            expect(sorted(balancesOf(posted.get(key) ?? []))).toEqual(
              sorted(balancesOf(entries.flatMap(entry => entry.lines))),
            )
        },
      ),
      runs(150),
    )
    expect(corrections).toBeGreaterThan(200)
  })

  it('accrued at a month’s end and reversed come to nothing over both, and to the month’s activity in the first', () => {
    fc.assert(
      fc.property(madeMonths({ maxLength: 50 }), madeOptions, base, (lines, options, inBase) => {
        const setup = madeSetup({ options, base: inBase })
        for (const { activity } of book(lines, setup).settlements) {
          const { entries, blocks } = composeAccrual(activity, '2026-02', setup)
          expect(blocks).toEqual([])
          const inMonth = activity.lines.filter(line => line.localDate.startsWith('2026-02'))
          if (!entries) continue
          expect([entries.accrual.date, entries.reversal.date]).toEqual(['2026-02-28', '2026-03-01'])
          expect(balancesOf([...entries.accrual.lines, ...entries.reversal.lines]).size).toBe(0)
          const clearing = setup.sources.get(activity.source)?.clearing[activity.currency] as string
          const moved = entries.accrual.lines.filter(line => line.account === clearing)
          const source = setup.sources.get(activity.source)
          const booked = inMonth.filter(
            line => !isStock(line.kind) && source && !resolveLine(line, setup, source, activity.currency).elsewhere,
          )
          expect(moved.reduce((sum, line) => sum + line.amount, 0)).toBe(
            booked.reduce((sum, line) => sum + line.amount, 0),
          )
        }
      }),
      runs(200),
    )
  })
})

const twins = (lines: readonly ActivityLine[]): ActivityLine[] =>
  lines.filter(line => line.orderId === null).map(line => ({ ...line, lineId: `${line.lineId}t` }))

const addUp = (lines: readonly WeightedLine[], perLine: boolean): WeightedLine[] => {
  const groups = new Map<string, WeightedLine>()
  for (const line of lines) {
    const { amount, taxAmount, count, texts: _, ...values } = line
    const key = JSON.stringify([values, taxAmount === null, perLine ? amount : null])
    const before = groups.get(key)
    const both = before && { amount: before.amount + amount, count: before.count + count }
    groups.set(
      key,
      before && both
        ? { ...before, ...both, taxAmount: taxAmount === null ? null : (before.taxAmount ?? 0) + taxAmount }
        : line,
    )
  }
  return [...groups.values()]
}

type Revision = { amount: number | null; category: string | null; status: ActivityLine['status']; days: number }
const revise = (lines: readonly ActivityLine[], round: readonly (readonly [number, Revision])[]): ActivityLine[] => {
  const revised = [...lines]
  for (const [at, { amount, category, status, days }] of round) {
    const index = at % lines.length
    const line = revised[index] as ActivityLine
    if (isPayout(line.kind)) continue
    revised[index] = { ...line, category, status, amount: amount ?? line.amount, instant: line.instant + days * oneDay }
  }
  return revised
}

/** Journals per settlement and currency; those of a settlement whose lines have all failed are none. */
const journalsByKey = (booked: BookedActivity): Map<string, DraftEntry[]> => {
  const journals = new Map(
    ['openhall', 'stall', 'counterpay'].flatMap(source =>
      currencies.map(currency => [`${source} ${currency}`, [] as DraftEntry[]]),
    ),
  )
  for (const { activity, composed } of booked.settlements)
    journals.set(
      `${activity.source} ${activity.currency}`,
      composed.entries.filter(entry => entry.document === 'journal'),
    )
  return journals
}
