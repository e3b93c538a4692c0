import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, daysBetween } from '../activity/localDate.ts'
import { containsWords, payerWording, readText, WordsIndex } from './bankWording.ts'
import type { OpenBankLine, OpenTransfer, PairingOptions } from './pairingItems.ts'
import { type PairingProposal, proposePairings } from './proposePairings.ts'

const options: PairingOptions = {
  windowDays: 7,
  maxGroup: 12,
  bankFeeUpTo: 500,
  bankTexts: new Map([['openhall', ['OH SETTL']]]),
  completeTo: null,
}
const transfer = (
  id: string,
  date: string,
  amount: number,
  source = 'openhall',
  reference: string | null = null,
): OpenTransfer => ({ id, source, bankAccount: '1000', currency: 'EUR', date, amount, reference })
const deposit = (id: string, date: string, amount: number, description = 'OPENHALL', reference = ''): OpenBankLine => ({
  id,
  bankAccount: '1000',
  currency: 'EUR',
  date,
  amount,
  description,
  reference,
})
const brief = ({ pairings }: PairingProposal) =>
  pairings.map(pairing => [
    pairing.sureness,
    pairing.bankLines.map(line => line.id).join('+'),
    pairing.transfers.map(one => one.id).join('+'),
  ])

describe('a single deposit', () => {
  it('is certain when nothing else fits and its text names the payer', () => {
    expect(
      brief(proposePairings([transfer('t', '2026-03-02', 5000)], [deposit('d', '2026-03-04', 5000)], options)),
    ).toEqual([['certain', 'd', 't']])
  })
  it('is likely when its text names nobody', () => {
    expect(
      brief(
        proposePairings([transfer('t', '2026-03-02', 5000)], [deposit('d', '2026-03-04', 5000, 'SOMEBODY')], options),
      ),
    ).toEqual([['likely', 'd', 't']])
  })
  it('is certain by a confirmed wording, or by an exact reference', () => {
    const by = (description: string, reference: string | null) =>
      proposePairings(
        [transfer('t', '2026-03-02', 5000, 'openhall', reference)],
        [deposit('d', '2026-03-04', 5000, description)],
        options,
      ).pairings[0]?.sureness
    expect([
      by('OH SETTL 1', null),
      by('XOH SETTL', null),
      by('REF OHP-2611.', 'OHP-2611'),
      by('REF OHP-26110', 'OHP-2611'),
    ]).toEqual(['certain', 'likely', 'certain', 'likely'])
  })
  it('waits for data that is not known yet', () => {
    const [pairing] = proposePairings([transfer('t', '2026-03-02', 5000)], [deposit('d', '2026-03-04', 5000)], {
      ...options,
      completeTo: '2026-03-08',
    }).pairings
    expect(pairing).toMatchObject({ sureness: 'likely', waitsFor: '2026-03-09', others: [] })
  })
  it('is outside the window before its payout and after seven days', () => {
    for (const date of ['2026-03-01', '2026-03-10'])
      expect(
        proposePairings([transfer('t', '2026-03-02', 5000)], [deposit('d', date, 5000)], options).pairings,
      ).toEqual([])
  })
  it('that is a little short is possible, and says by how much', () => {
    const [pairing] = proposePairings(
      [transfer('t', '2026-03-02', 5000)],
      [deposit('d', '2026-03-04', 4850)],
      options,
    ).pairings
    expect(pairing).toMatchObject({ sureness: 'possible', difference: -150 })
  })
})

it('assigns equal amounts in date order as one optimum', () => {
  const transfers = [transfer('t1', '2026-03-16', 9500), transfer('t2', '2026-03-17', 9500)]
  const deposits = [deposit('d2', '2026-03-19', 9500), deposit('d1', '2026-03-18', 9500)]
  expect(brief(proposePairings(transfers, deposits, options))).toEqual([
    ['likely', 'd1', 't1'],
    ['likely', 'd2', 't2'],
  ])
})

it('finds groups of one payer, both ways, and no group of strangers', () => {
  const groups = proposePairings(
    [transfer('a', '2026-03-04', 8010), transfer('b', '2026-03-05', 4520), transfer('c', '2026-03-09', 30_000)],
    [
      deposit('x', '2026-03-06', 12_530),
      deposit('y', '2026-03-10', 18_000, 'OPENHALL 1/2'),
      deposit('z', '2026-03-11', 12_000, 'OPENHALL 2/2'),
    ],
    options,
  )
  expect(brief(groups)).toEqual([
    ['certain', 'x', 'a+b'],
    ['certain', 'y+z', 'c'],
  ])
  const strangers = proposePairings(
    [transfer('a', '2026-03-04', 8010), transfer('b', '2026-03-05', 4520, 'brookpay')],
    [deposit('x', '2026-03-06', 12_530)],
    options,
  )
  expect(strangers.pairings).toEqual([])
})

// Written from the rule alone: the best disjoint set of equal pairs by trying every subset.
const bruteForce = (transfers: readonly OpenTransfer[], lines: readonly OpenBankLine[]) => {
  const fits = (one: OpenTransfer, line: OpenBankLine) =>
    one.amount === line.amount && daysBetween(one.date, line.date) >= 0 && daysBetween(one.date, line.date) <= 7
  let best = { groups: 0, cost: 0 }
  const walk = (at: number, used: ReadonlySet<string>, groups: number, cost: number): void => {
    if (groups > best.groups || (groups === best.groups && cost < best.cost)) best = { groups, cost }
    const line = lines[at]
    if (!line) return
    walk(at + 1, used, groups, cost)
    for (const one of transfers)
      if (!used.has(one.id) && fits(one, line))
        walk(at + 1, new Set([...used, one.id]), groups + 1, cost + daysBetween(one.date, line.date) ** 2)
  }
  walk(0, new Set(), 0, 0)
  return best
}

describe('against brute force, one to one', () => {
  const amount = fc.constantFrom(1000, 2000, 7000)
  const day = fc.integer({ min: 0, max: 16 })
  const single = { ...options, maxGroup: 1, bankFeeUpTo: null }
  it('pairs as many and as near as any assignment can, each item once', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(amount, day), { maxLength: 7 }),
        fc.array(fc.tuple(amount, day), { maxLength: 7 }),
        (paid, came) => {
          const transfers = paid.map(([sum, date], index) => transfer(`t${index}`, addDays('2026-03-01', date), sum))
          const lines = came.map(([sum, date], index) =>
            deposit(`d${index}`, addDays('2026-03-01', date), sum, 'NOBODY'),
          )
          const { pairings } = proposePairings(transfers, lines, single)
          const cost = pairings.reduce((sum, pairing) => sum + pairing.evidence.lagDays ** 2, 0)
          expect({ groups: pairings.length, cost }).toEqual(bruteForce(transfers, lines))
          const ids = pairings.flatMap(pairing => [...pairing.transfers, ...pairing.bankLines].map(item => item.id))
          expect(new Set(ids).size).toBe(ids.length)
        },
      ),
      { numRuns: 1500 },
    )
  })
  it('calls nothing certain that shares a member with another exact grouping', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(amount, day), { maxLength: 6 }),
        fc.array(fc.tuple(amount, day), { maxLength: 6 }),
        (paid, came) => {
          const transfers = paid.map(([sum, date], index) => transfer(`t${index}`, addDays('2026-03-01', date), sum))
          const lines = came.map(([sum, date], index) => deposit(`d${index}`, addDays('2026-03-01', date), sum))
          for (const pairing of proposePairings(transfers, lines, options).pairings) {
            if (pairing.sureness !== 'certain') continue
            for (const line of pairing.bankLines)
              for (const one of transfers)
                if (
                  one.amount === line.amount &&
                  daysBetween(one.date, line.date) >= 0 &&
                  daysBetween(one.date, line.date) <= 7
                )
                  expect(pairing.transfers).toContain(one)
          }
        },
      ),
      { numRuns: 800 },
    )
  })
})

it('reads bank texts by whole words, and one payer from texts that differ in numbers', () => {
  expect([
    containsWords('PAYOUT OPENHALL-1', 'openhall'),
    containsWords('OPENHALLS', 'openhall'),
    containsWords('x', ''),
  ]).toEqual([true, false, false])
  expect(payerWording('BROOKPAY PAYOUT 1/2')).toBe(payerWording('Brookpay  payout 2/2'))
})

it('ends words where letters and digits end, also those beyond the basic plane', () => {
  // 𝒜 is a letter of two units, 🏺 a sign of two.
  expect(containsWords('OPENHALL𝒜', 'openhall')).toBe(false)
  expect(containsWords('𝒜OPENHALL', 'openhall')).toBe(false)
  expect(containsWords('🏺OPENHALL🏺', 'openhall')).toBe(true)
  const found = (text: string, sought: string) => {
    const index = new WordsIndex<number>()
    index.add(sought, 1)
    return index.in(readText(text)).length
  }
  expect([found('x open  hall y', 'OPEN HALL'), found('openhall', 'open'), found('open𝒜', 'open')]).toEqual([1, 0, 0])
  expect([found('OHP-100012', 'OHP-1000'), found('ref:OHP-1000.', 'ohp-1000')]).toEqual([0, 1])
})
