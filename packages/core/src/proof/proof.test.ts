import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays } from '../activity/localDate.ts'
import { ageOpen } from './ageing.ts'
import { findDoubles } from './findDoubles.ts'
import { missingDays, missingNumbers } from './findMissing.ts'
import { type ProofInput, proveClearing } from './proveClearing.ts'

const base: ProofInput = {
  date: '2026-03-31',
  ledger: 0,
  reported: 0,
  settlements: [],
  payoutsLeaveBalance: 'sent',
  reserves: [],
  pending: [],
  corrections: [],
  byHand: [],
  heads: [],
}
const dated = fc.record({
  date: fc.constantFrom('2026-03-29', '2026-03-31', '2026-04-02'),
  amount: fc.integer({ min: -9999, max: 9999 }),
})
const settlement = fc.record({
  name: fc.string(),
  state: fc.constantFrom('blocked', 'proposed', 'posted', 'set_aside' as const),
  movements: fc.array(dated),
  entries: fc.array(dated),
  payouts: fc.array(
    fc.record({
      date: fc.constant('2026-03-31'),
      amount: fc.integer({ min: -9999, max: 0 }),
      lineId: fc.string(),
      transferDate: fc.constantFrom(null, '2026-03-31', '2026-04-02'),
      arrivedOn: fc.constantFrom(null, '2026-04-01'),
    }),
  ),
})

it('always adds up: books + causes = reported, unexplained last', () => {
  fc.assert(
    fc.property(
      fc.array(settlement),
      fc.array(dated),
      fc.integer({ min: -99_999, max: 99_999 }),
      fc.integer({ min: -99_999, max: 99_999 }),
      (settlements, pending, ledger, reported) => {
        const proof = proveClearing({
          ...base,
          settlements: settlements as ProofInput['settlements'],
          pending,
          ledger,
          reported,
        })
        expect(proof.ledger + proof.causes.reduce((sum, cause) => sum + cause.amount, 0)).toBe(reported)
        expect(proof.causes.at(-1)?.cause).toBe('unexplained')
        for (const cause of proof.causes)
          if (cause.documents.length > 0)
            expect(cause.documents.reduce((sum, document) => sum + document.amount, 0)).toBe(cause.amount)
      },
    ),
  )
})

it('tells a payout on its way from one that arrived', () => {
  const paid = {
    name: 'S',
    state: 'posted' as const,
    movements: [],
    entries: [],
    payouts: [{ lineId: 'p', date: '2026-03-30', amount: -500, transferDate: '2026-04-02', arrivedOn: null }],
  }
  const causes = (input: Partial<ProofInput>) =>
    proveClearing({ ...base, settlements: [paid], ...input }).causes.map(({ cause, amount }) => [cause, amount])
  expect(causes({ ledger: 500, reported: 0 })).toEqual([
    ['payout_on_its_way', -500],
    ['unexplained', 0],
  ])
  expect(causes({ date: '2026-04-02', ledger: 0, reported: 500, payoutsLeaveBalance: 'arrived' })).toEqual([
    ['payout_on_its_way', 500],
    ['unexplained', 0],
  ])
})

it('names a hand entry, a correction and a missing statement', () => {
  const head = (settlementId: string, periodStart: string, openingBalance: number, closingBalance: number) => ({
    settlementId,
    periodStart,
    periodEnd: null,
    currency: 'EUR',
    openingBalance,
    closingBalance,
    payoutDate: null,
    payoutReference: null,
    url: null,
  })
  const proof = proveClearing({
    ...base,
    ledger: 15,
    reported: 95,
    byHand: [{ name: '2026-0412', date: '2026-03-02', amount: 15 }],
    corrections: [{ name: 'S', date: '2026-03-02', amount: -5 }],
    heads: [head('A', '2026-03-01', 0, 0), head('C', '2026-03-15', 100, 200)],
  })
  expect(proof.causes.map(({ cause, amount }) => [cause, amount])).toEqual([
    ['correction', -5],
    ['by_hand', -15],
    ['gap', 100],
    ['unexplained', 0],
  ])
})

it('adds up what is open by its age, in four ages', () => {
  const open = (date: string, amount: number) => ({ name: date, date, amount })
  const proof = proveClearing({
    ...base,
    unpaidOrders: [
      open('2026-03-31', 1),
      open('2026-03-24', 10),
      open('2026-03-23', 100),
      open('2026-03-01', 1000),
      open('2026-02-28', 10_000),
      open('2026-01-30', 100_000),
      open('2026-01-29', 1_000_000),
      // After the date: not open yet.
      open('2026-04-01', 7),
    ],
    // Made by hand: it does not wait for anything.
    byHand: [open('2025-01-01', 5)],
  })
  expect(ageOpen(proof, base.date)).toEqual([-11, -1100, -110_000, -1_000_000])
})

it('names a hand entry that repeats one of a source’s as its double, each once', () => {
  const entry = (name: string, amount: number, date = '2026-03-02') => ({ name, amount, date })
  const made = [entry('W-1', 4520), entry('W-2', 990)]
  expect(findDoubles([entry('a', 4520), entry('b', 4520), entry('c', 990, '2026-03-03'), entry('d', 0)], made)).toEqual(
    [made[0], null, null, null],
  )
})

describe('what is missing', () => {
  const weekdays = (from: string, count: number) =>
    Array.from({ length: count }, (_, day) => addDays(from, day)).filter(
      date => ![0, 6].includes(new Date(`${date}T12:00:00Z`).getUTCDay()),
    )
  it('is a day without activity on a weekday that is usually busy', () => {
    const days = weekdays('2026-01-05', 100)
    expect(missingDays(days)).toEqual([])
    expect(missingDays(days.filter(date => date !== '2026-03-18'))).toEqual(['2026-03-18'])
    // A week off before makes the next weeks' days still usual: one of eight may be quiet.
    expect(missingDays(['2026-01-05'])).toEqual([])
  })
  it('is a number between two statements of one series', () => {
    expect(missingNumbers(['OH-0009', 'OH-0012', 'OTHER', 'X1', 'X2'])).toEqual(['OH-0010', 'OH-0011'])
    expect(missingNumbers(['OH-1', 'OH-900'])).toEqual([])
  })
})
