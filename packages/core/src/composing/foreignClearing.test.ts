import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { seed } from '../testing/madeMonths.ts'
import type { DraftEntry } from './draft.ts'
import { carriedBase, carryTransfer, type ForeignBalance, revalueBalances } from './foreignClearing.ts'

const transfer = (amount: number, baseAmount: number): DraftEntry => ({
  document: 'transfer',
  date: '2026-03-10',
  currency: 'USD',
  payoutLine: 'p',
  lines: [
    { account: '1001', taxCode: '', segments: '', amount, baseAmount, buckets: [], routes: [] },
    { account: '1290', taxCode: '', segments: '', amount: -amount, baseAmount: -baseAmount, buckets: [], routes: [] },
  ],
})

describe('a transfer out of a foreign balance', () => {
  // 1,000.00 USD stand on clearing at 920.00; 400.00 are paid out on a day when they are worth 360.00.
  const before = { amount: 100_000, base: 92_000 }
  const carried = (entry: DraftEntry, balance: ForeignBalance) =>
    carryTransfer(entry, { clearing: '1290', before: balance, exchangeDifference: '7910' }).lines.map(line => [
      line.account,
      line.amount,
      line.baseAmount,
    ])
  it('leaves at the base amount of what it closes; the rest is a realised difference', () =>
    expect(carried(transfer(40_000, 36_000), before)).toEqual([
      ['1001', 40_000, 36_000],
      ['1290', -40_000, -36_800],
      ['7910', 0, 800],
    ]))
  it('takes the day’s rate for what goes beyond the balance', () =>
    // Closes 1,000.00 at 920.00; the 200.00 beyond at 0.9: 180.00.
    expect(carried(transfer(120_000, 108_000), before)).toEqual([
      ['1001', 120_000, 108_000],
      ['1290', -120_000, -110_000],
      ['7910', 0, 2000],
    ]))
  it('takes the day’s rate alone where there is nothing to close', () => {
    expect(carried(transfer(40_000, 36_000), { amount: 0, base: 0 })).toHaveLength(2)
    expect(carried(transfer(40_000, 36_000), { amount: -500, base: -460 })).toHaveLength(2)
  })
  it('closes half at half its base, and the last of it at all that is left', () =>
    expect([carriedBase({ amount: 3, base: 100 }, -1), carriedBase({ amount: 2, base: 67 }, -2)]).toEqual([
      { base: -33, beyond: 0 },
      { base: -67, beyond: 0 },
    ]))
  it('leaves no base amount on a balance that has come to nothing, whatever came and went (seed shared)', () => {
    const step = fc.record({
      paid: fc.integer({ min: 1, max: 100 }),
      came: fc.integer({ min: 0, max: 90_000 }),
      rate: fc.integer({ min: 50, max: 150 }),
    })
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 12 }), steps => {
        let balance: ForeignBalance = { amount: 0, base: 0 }
        const move = (amount: number, base: number) => {
          balance = { amount: balance.amount + amount, base: balance.base + base }
        }
        const pay = (amount: number, rate: number) => {
          const entry = carryTransfer(transfer(amount, Math.round((amount * rate) / 100)), {
            clearing: '1290',
            before: balance,
            exchangeDifference: '7910',
          })
          expect(entry.lines.reduce((sum, line) => sum + line.baseAmount, 0)).toBe(0)
          move(-amount, entry.lines[1]?.baseAmount ?? 0)
        }
        for (const { paid, came, rate } of steps) {
          move(came, Math.round((came * rate) / 100))
          if (balance.amount > 0) pay(Math.ceil((balance.amount * paid) / 100), rate)
        }
        if (balance.amount > 0) pay(balance.amount, 100)
        expect(balance).toEqual({ amount: 0, base: 0 })
      }),
      { seed, numRuns: 500 },
    )
  })
})

describe('a revaluation', () => {
  const context = {
    date: '2026-03-31',
    base: 'EUR',
    rates: [
      { date: '2026-03-30', from: 'USD', to: 'EUR', rate: '0.9' },
      { date: '2026-04-01', from: 'JPY', to: 'EUR', rate: '0.006' },
    ],
    exchangeDifference: '7910',
  }
  it('brings open balances to the day’s rate, in base only, and is undone the next day', () => {
    const { entries, withoutRate } = revalueBalances(
      [
        { account: '1290', currency: 'USD', amount: 100_000, base: 92_000 },
        { account: '1001', currency: 'USD', amount: 10_000, base: 8_900 },
        { account: '1291', currency: 'JPY', amount: 100, base: 60 },
        { account: '1210', currency: 'EUR', amount: 5, base: 5 },
      ],
      context,
    )
    expect(withoutRate).toEqual(['JPY'])
    expect(entries).toHaveLength(1)
    expect(entries[0]?.revaluation.lines.map(line => [line.account, line.amount, line.baseAmount])).toEqual([
      ['1001', 0, 100],
      ['1290', 0, -2000],
      ['7910', 0, 1900],
    ])
    expect(entries[0]?.reversal).toMatchObject({
      date: '2026-04-01',
      lines: [{ baseAmount: -100 }, { baseAmount: 2000 }, { baseAmount: -1900 }],
    })
  })
  it('makes nothing where nothing differs', () =>
    expect(revalueBalances([{ account: '1290', currency: 'USD', amount: 100, base: 90 }], context).entries).toEqual([]))
})
