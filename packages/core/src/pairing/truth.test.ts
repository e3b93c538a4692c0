import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holdAgainstTruth, makeDeposits } from '../testing/depositTruth.ts'
import type { PairingOptions } from './pairingItems.ts'
import { proposePairings } from './proposePairings.ts'

const options: PairingOptions = {
  windowDays: 7,
  maxGroup: 12,
  bankFeeUpTo: 500,
  bankTexts: new Map(),
  completeTo: null,
}

describe('against what really happened', () => {
  it.each([
    [1, 2000, 290],
    [2, 2000, 290],
    [3, 1000, 290],
    [4, 3000, 290],
  ])('nothing certain is wrong (seed %i: %i payouts in %i days)', (seed, payouts, days) => {
    const truth = makeDeposits({ payouts, days, seed })
    const figures = holdAgainstTruth(proposePairings(truth.transfers, truth.bankLines, options), truth)
    console.log(`seed ${seed}, ${payouts} payouts in ${days} days: ${JSON.stringify(figures)}`)
    expect(figures.certainWrong).toBe(0)
    expect(figures.certainRight).toBeGreaterThan(truth.groups.size * 0.7)
  })
})

const small = fc.record({
  payouts: fc.integer({ min: 5, max: 40 }),
  days: fc.integer({ min: 3, max: 30 }),
  seed: fc.nat(),
})

describe('whatever happened', () => {
  it('no item is used twice, and what is certain or likely adds up', () => {
    fc.assert(
      fc.property(small, made => {
        const { transfers, bankLines } = makeDeposits(made)
        const { pairings } = proposePairings(transfers, bankLines, options)
        const used = pairings.flatMap(one => [...one.bankLines, ...one.transfers].map(item => item.id))
        expect(new Set(used).size).toBe(used.length)
        for (const one of pairings) {
          const difference =
            one.bankLines.reduce((sum, line) => sum + line.amount, 0) -
            one.transfers.reduce((sum, transfer) => sum + transfer.amount, 0)
          expect(one.difference).toBe(difference)
          if (one.sureness !== 'possible') expect(difference).toBe(0)
        }
      }),
      { numRuns: 300 },
    )
  })
  it('a bank line of somebody else’s makes nothing wrong certain', () => {
    fc.assert(
      fc.property(small, fc.nat(), fc.integer({ min: 0, max: 30 }), (made, which, day) => {
        const { transfers, bankLines, groups } = makeDeposits(made)
        const like = bankLines[which % Math.max(1, bankLines.length)]
        if (!like) return
        const stranger = {
          ...like,
          id: 'stranger',
          description: 'SOMEBODY ELSE',
          reference: '',
          date: `2022-01-${String(1 + (day % 28)).padStart(2, '0')}`,
        }
        const figures = holdAgainstTruth(proposePairings(transfers, [...bankLines, stranger], options), {
          transfers,
          bankLines,
          groups,
        })
        expect(figures.certainWrong).toBe(0)
      }),
      { numRuns: 400 },
    )
  })
  it('the order in which the items are given does not matter', () => {
    fc.assert(
      fc.property(small, made => {
        const { transfers, bankLines } = makeDeposits(made)
        const once = JSON.stringify(proposePairings(transfers, bankLines, options))
        expect(JSON.stringify(proposePairings([...transfers].reverse(), [...bankLines].reverse(), options))).toBe(once)
      }),
      { numRuns: 200 },
    )
  })
})

it('lists what it did not search, and what too many fit, and comes to an end', () => {
  const many = Array.from({ length: 60 }, (_, index) => ({
    id: `t${index}`,
    source: 'openhall',
    bankAccount: '1000',
    currency: 'EUR',
    date: '2026-03-02',
    amount: 1000,
    reference: null,
  }))
  const line = {
    id: 'd',
    bankAccount: '1000',
    currency: 'EUR',
    date: '2026-03-04',
    amount: 9000,
    description: 'OPENHALL',
    reference: '',
  }
  expect(proposePairings(many, [line], options).groupsNotSearched).toContain('d')
  const crowded = proposePairings(many.slice(0, 20), [line], options)
  // 167,960 ways to take 9 of 20.
  expect(crowded.tooManyFit.find(one => one.id === 'd')?.count).toBe(167_960)
  expect(crowded.pairings).toEqual([])
})
