import fc from 'fast-check'
import { expect, it } from 'vitest'
import { addDays } from '../activity/localDate.ts'
import { nameOf, pairByBruteForce } from '../testing/pairingOracle.ts'
import type { OpenBankLine, OpenTransfer, PairingOptions } from './pairingItems.ts'
import type { Sureness } from './pairings.ts'
import { proposePairings } from './proposePairings.ts'

const seed = Number(process.env.CULVERT_SEED ?? 20_260_307)
const dates = fc
  .oneof(
    { weight: 3, arbitrary: fc.integer({ min: 0, max: 6 }) },
    { weight: 1, arbitrary: fc.integer({ min: 0, max: 13 }) },
    { weight: 1, arbitrary: fc.integer({ min: 0, max: 40 }) },
  )
  .map(day => addDays('2026-03-02', day))
const accounts = fc.oneof({ weight: 24, arbitrary: fc.constant('1000') }, { weight: 1, arbitrary: fc.constant('1001') })
const texts = fc.constantFrom(
  'OPENHALL SETTL 12',
  'OPENHALL SETTL 1/2',
  'Openhall  settl 2/2',
  'OPENHALL SETTL 12',
  'Brookpay payout 7',
  'SOMEBODY',
  'OH MARKET',
  'XOPENHALL',
  'RENT (March) OHP-1001',
  'openhall; OHP-1002 and OHP-1001',
  'OPEN HALL SETTL',
  'OPEN HALL OPEN SETTL',
  'OPENHALL AND BROOKPAY',
  'OPEN SETTL OHP-1003',
)

/** Few amounts make sums meet, many leave them alone; parts on one side and wholes on the other make groups. */
const amountsOf = (few: boolean, side: 'parts' | 'wholes' | 'any') =>
  side !== 'any'
    ? fc.constantFrom(...(side === 'parts' ? [1000, 2000, 1100] : [3000, 2100, 4100]))
    : few
      ? fc.constantFrom(1000, 2000, 3000, -1000, 4000)
      : fc.oneof(
          fc.constantFrom(1000, 2000, 3000, 5000, 7300, 2700, -1000, -4000, 0),
          fc.integer({ min: 900, max: 1100 }),
        )

const cases = fc.tuple(fc.boolean(), fc.constantFrom('equal', 'equal', 'joined', 'split')).chain(([few, how]) => {
  const sides = { equal: ['any', 'any'], joined: ['parts', 'wholes'], split: ['wholes', 'parts'] } as const
  const [paidOf, cameOf] = sides[how]
  const payout = fc.record({
    source: fc.constantFrom('openhall', 'openhall', 'brookpay', 'open', 'open hall'),
    bankAccount: accounts,
    date: dates,
    amount: amountsOf(few, paidOf),
    reference: fc.oneof(
      { weight: few ? 4 : 1, arbitrary: fc.constantFrom(null, 'SHORT', 'A1') },
      { weight: 1, arbitrary: fc.constantFrom('OHP-1001', 'OHP-1002', 'OHP-1003') },
    ),
  })
  const line = fc.record({
    bankAccount: accounts,
    date: dates,
    amount: amountsOf(few, cameOf),
    description: texts,
    reference: fc.oneof(
      { weight: few ? 4 : 1, arbitrary: fc.constant('') },
      { weight: 1, arbitrary: fc.constantFrom('OHP-1001', 'OHP-10010') },
    ),
  })
  return fc.record({
    transfers: fc.array(payout, { minLength: 2, maxLength: 8, size: 'max' }),
    bankLines: fc.array(line, { minLength: 2, maxLength: 8, size: 'max' }),
    windowDays: fc.constantFrom(7, 7, 2),
    maxGroup: fc.constantFrom(12, 12, 3),
    bankFeeUpTo: fc.constantFrom(null, 150, 500),
    doubtReferences: fc.boolean(),
  })
})

it(`answers as brute force does, in 10,000 cases of up to 8 × 8 (seed ${seed})`, () => {
  const found: Record<Sureness | 'groups', number> = { certain: 0, likely: 0, possible: 0, groups: 0 }
  fc.assert(
    fc.property(cases, ({ transfers: paid, bankLines: came, ...limits }) => {
      const transfers = paid.map((one, index): OpenTransfer => ({ ...one, id: `t${index}`, currency: 'EUR' }))
      const bankLines = came.map((one, index): OpenBankLine => ({ ...one, id: `d${index}`, currency: 'EUR' }))
      const options: PairingOptions = { ...limits, bankTexts: new Map([['openhall', ['OH MARKET']]]), completeTo: null }
      const { pairings } = proposePairings(transfers, bankLines, options)
      const named = (sureness: Sureness) =>
        pairings
          .filter(one => one.sureness === sureness)
          .map(one => nameOf(one.bankLines, one.transfers))
          .sort()
      for (const { sureness, bankLines: lines, transfers: payouts } of pairings) {
        found[sureness]++
        if (lines.length + payouts.length > 2) found.groups++
      }
      expect({ certain: named('certain'), likely: named('likely'), possible: named('possible') }).toEqual(
        pairByBruteForce(transfers, bankLines, options),
      )
    }),
    { numRuns: 10_000, seed },
  )
  console.log(`against brute force: ${JSON.stringify(found)}`)
  expect(Math.min(found.certain, found.likely, found.possible, found.groups)).toBeGreaterThan(500)
}, 240_000)
