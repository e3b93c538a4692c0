import fc from 'fast-check'
import { expect, it } from 'vitest'
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
