import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays } from '../activity/localDate.ts'
import { ageOpen } from './ageing.ts'
import { findDoubles } from './findDoubles.ts'
import { missingDays, missingNumbers } from './findMissing.ts'
import type { DocumentRef, NamedAmount, ProofInput, ProofSettlement } from './proofInput.ts'
import { proveClearing } from './proveClearing.ts'

const base: ProofInput = {
  date: '2026-03-31',
  ledger: 0,
  reported: 0,
  settlements: [],
  reserves: [],
  pending: [],
  corrections: [],
  byHand: [],
  series: [],
}
const refOf = (key: string): DocumentRef => ({ of: 'settlement', source: 'openhall', key })
const named = (name: string, amount: number, date = '2026-03-02'): NamedAmount => ({
  name,
  amount,
  date,
  ref: refOf(name),
})
const dated = fc.record({
  date: fc.constantFrom('2026-03-29', '2026-03-31', '2026-04-02'),
  amount: fc.integer({ min: -9999, max: 9999 }),
})
const settlement = fc.record({
  name: fc.string(),
  ref: fc.constantFrom(refOf('S'), refOf('T')),
  state: fc.constantFrom('blocked', 'proposed', 'posted', 'set_aside' as const),
  movements: fc.array(
    fc.tuple(dated, fc.constantFrom(null, '2026-03-31', '2026-04-02')).map(([one, bookedOn]) => ({ ...one, bookedOn })),
  ),
  payouts: fc.array(
    fc.record({
      leaves: fc.constantFrom<'sent' | 'arrived'>('sent', 'arrived'),
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
          settlements: settlements as ProofSettlement[],
          pending: pending.map(one => ({ ...named('openhall', one.amount), ...one })),
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
  const paid = (leaves: 'sent' | 'arrived'): ProofSettlement => ({
    name: 'S',
    ref: refOf('S'),
    state: 'posted',
    movements: [],
    payouts: [{ lineId: 'p', date: '2026-03-30', amount: -500, transferDate: '2026-04-02', arrivedOn: null, leaves }],
  })
  const causes = (input: Partial<ProofInput>, leaves: 'sent' | 'arrived' = 'sent') =>
    proveClearing({ ...base, settlements: [paid(leaves)], ...input }).causes.map(({ cause, amount }) => [cause, amount])
  expect(causes({ ledger: 500, reported: 0 })).toEqual([
    ['payout_on_its_way', -500],
    ['unexplained', 0],
  ])
  expect(causes({ date: '2026-04-02', ledger: 0, reported: 500 }, 'arrived')).toEqual([
    ['payout_on_its_way', 500],
    ['unexplained', 0],
  ])
})

describe('the outcome', () => {
  const outcome = (input: Partial<ProofInput>) => proveClearing({ ...base, ...input }).outcome
  const waiting = (state: ProofSettlement['state'], amounts: readonly number[]): ProofSettlement => ({
    name: 'S',
    ref: refOf('S'),
    state,
    movements: amounts.map(amount => ({ date: '2026-03-30', amount, bookedOn: null })),
    payouts: [],
  })
  it('is closed where only time stands between books and balance', () => {
    expect(outcome({})).toBe('closed')
    expect(outcome({ ledger: 15, unpaidOrders: [named('8001', 15)] })).toBe('closed')
  })
  it('is explained where something is to be mended, also where it cancels or comes to nothing', () => {
    expect(outcome({ byHand: [named('a', 5), named('b', -5)] })).toBe('explained')
    expect(outcome({ settlements: [waiting('blocked', [700, -700])] })).toBe('explained')
    expect(outcome({ settlements: [waiting('set_aside', [0])] })).toBe('explained')
    expect(outcome({ corrections: [named('S', 0)] })).toBe('explained')
    expect(outcome({ corrections: [named('S', 0, '2026-04-01')] })).toBe('closed')
  })
  it('is open where anything is unexplained, or an entry is not what its lines come to', () => {
    expect(outcome({ reported: 1 })).toBe('open')
    expect(outcome({ wrongEntries: [named('S', 5), named('T', -5)] })).toBe('open')
    expect(outcome({ wrongEntries: [named('S', 5, '2026-04-01')] })).toBe('closed')
  })
  it('tells causes whose documents cancel', () => {
    const proof = proveClearing({ ...base, byHand: [named('a', 5), named('b', -5)] })
    expect(proof.causes[0]).toMatchObject({ cause: 'by_hand', amount: 0, documents: [{ name: 'a' }, { name: 'b' }] })
  })
})

it('counts an entry taken back only after the date by its mirror', () => {
  const takenBack = [{ ...named('S', -500, '2026-04-01'), postedOn: '2026-03-30', payout: false }]
  const later = proveClearing({ ...base, ledger: 500, takenBack })
  expect(later).toMatchObject({ unexplained: 0, causes: [{ cause: 'after_cut_off', amount: -500 }, {}] })
  expect(proveClearing({ ...base, date: '2026-04-01', takenBack })).toMatchObject({ outcome: 'closed' })
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
    byHand: [named('2026-0412', 15)],
    corrections: [named('S', -5)],
    series: [
      { source: 'openhall', opened: 0, heads: [head('C', '2026-03-15', 100, 200), head('A', '2026-03-01', 0, 0)] },
      // Another source of the account has its own sequence, and opened with what its opening entry says.
      { source: 'stall', opened: 40, heads: [head('B', '2026-03-05', 40, 70)] },
    ],
  })
  expect(proof.causes.map(({ cause, amount }) => [cause, amount])).toEqual([
    ['correction', -5],
    ['by_hand', -15],
    ['gap', 100],
    ['unexplained', 0],
  ])
})

it('adds up what is open by its age, in four ages', () => {
  const open = (date: string, amount: number) => named(date, amount, date)
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
