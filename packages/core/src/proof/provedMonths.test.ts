import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { isStock } from '../activity/kindTraits.ts'
import { addDays } from '../activity/localDate.ts'
import { isBooked } from '../composing/bookActivity.ts'
import type { Setup, Source, SourceOptions } from '../composing/setup.ts'
import { sumMinor } from '../money/minor.ts'
import { madeMonths, madeOptions, seed } from '../testing/madeMonths.ts'
import { currencies, madeSetup } from '../testing/madeSetup.ts'
import { heldAt, monthOf, zone } from '../testing/provedMonth.ts'
import { findDoubles } from './findDoubles.ts'
import { findLeads, type Movement } from './findLeads.ts'
import type { NamedAmount, ProofInput } from './proofInput.ts'
import { type BookedMonth, proofOfBooked } from './proofOfBooked.ts'
import { type Proof, proveClearing } from './proveClearing.ts'

const options = fc
  .tuple(
    madeOptions,
    fc.record({
      payoutsLeaveBalance: fc.constantFrom<'sent' | 'arrived'>('sent', 'arrived'),
      reservesStayOnBalance: fc.boolean(),
      bookPending: fc.boolean(),
    }),
  )
  .map(([some, others]) => ({ ...some, ...others }))
const dates = fc.integer({ min: 0, max: 70 }).map(days => addDays('2026-02-08', days))
const accounts = (setup: Setup) =>
  [...setup.sources.values()].flatMap(source => currencies.map(currency => source.clearing[currency] as string))
/** All three sources on one account per currency, one of them with other options. */
const sharedSetup = (given: Partial<SourceOptions>, others: Partial<SourceOptions>): Setup => {
  const setup = madeSetup({ options: given })
  const sources = [...setup.sources].map(([key, source]): [string, Source] => [
    key,
    {
      ...source,
      clearing: Object.fromEntries(currencies.map(currency => [currency, `12-openhall-${currency}`])),
      options: key === 'counterpay' ? { ...source.options, ...others } : source.options,
    },
  ])
  return { ...setup, sources: new Map(sources) }
}
const runs = (numRuns: number) => ({ numRuns, seed })
const inOrder = (proof: Proof) => proof.causes.map(cause => [cause.cause, cause.amount])

describe(`every generated month (seed ${seed})`, () => {
  it('is proved: books and causes come to what the processor holds, to the cent, on any date', () => {
    let causes = 0
    fc.assert(
      fc.property(madeMonths({ maxLength: 60 }), options, dates, (lines, given, date) => {
        const setup = madeSetup({ options: given })
        const month = monthOf(lines, setup)
        for (const account of accounts(setup)) {
          const reported = heldAt(lines, setup, { account, date })
          const proof = proveClearing(proofOfBooked({ account, date, reported }, month))
          expect(proof.unexplained, `${account} at ${date}: ${JSON.stringify(inOrder(proof))}`).toBe(0)
          causes += proof.causes.length - 1
        }
      }),
      runs(300),
    )
    expect(causes).toBeGreaterThan(500)
  })

  it('is proved also where sources share an account, each with a sequence and options of its own', () => {
    fc.assert(
      fc.property(madeMonths({ maxLength: 60 }), options, options, dates, (lines, given, others, date) => {
        const setup = sharedSetup(given, others)
        const month = monthOf(lines, setup)
        for (const account of new Set(accounts(setup))) {
          const reported = heldAt(lines, setup, { account, date })
          const proof = proveClearing(proofOfBooked({ account, date, reported }, month))
          expect(proof.unexplained, `${account} at ${date}: ${JSON.stringify(inOrder(proof))}`).toBe(0)
        }
      }),
      runs(200),
    )
  })
  it('is proved also where some settlements are blocked, in whole or for lack of a route', () => {
    let blocked = 0
    fc.assert(
      fc.property(madeMonths({ maxLength: 60 }), options, dates, (lines, given, date) => {
        const setup = madeSetup({
          options: given,
          rules: [
            { id: 1, conditions: [{ field: 'category', is: 'equal', value: 'Books' }], actions: [{ set: 'block' }] },
          ],
        })
        const month = monthOf(lines, setup)
        for (const account of accounts(setup)) {
          const reported = heldAt(lines, setup, { account, date })
          const proof = proveClearing(proofOfBooked({ account, date, reported }, month))
          expect(proof.unexplained, `${account}: ${JSON.stringify(inOrder(proof))}`).toBe(0)
          if (proof.causes.some(cause => cause.cause === 'blocked')) blocked++
        }
      }),
      runs(150),
    )
    expect(blocked).toBeGreaterThan(50)
  })
})

describe(`a planted error (seed ${seed})`, () => {
  const euro = fc.tuple(madeMonths({ minLength: 20, maxLength: 60 }), dates, fc.nat())
  const account = '12-openhall-EUR'
  const proved = (
    lines: readonly ActivityLine[],
    date: string,
    plant: (input: ProofInput) => ProofInput = one => one,
  ) => {
    const setup = madeSetup({})
    const month = monthOf(lines, setup)
    const input = proofOfBooked({ account, date, reported: heldAt(lines, setup, { account, date }) }, month)
    return { proof: proveClearing(plant(input)), input, month }
  }
  const postedOf = ({ booked }: BookedMonth, date: string): NamedAmount[] =>
    booked.settlements.flatMap(one =>
      one.composed.entries
        .filter(entry => entry.document === 'journal' && entry.date <= date)
        .map(entry => ({
          date: entry.date,
          amount: sumMinor(entry.lines, line => (line.account === account ? line.amount : 0)),
          name: one.name,
          ref: { of: 'settlement' as const, source: one.activity.source, key: one.name },
        }))
        .filter(entry => entry.amount !== 0),
    )
  const byHand = (input: ProofInput, month: BookedMonth, entry: Movement): ProofInput => {
    const [double] = findDoubles([entry], postedOf(month, input.date))
    const ref = { of: 'entry', fiscalYear: 2026, number: 1 } as const
    const made = { name: entry.name, date: entry.date, amount: entry.amount, ref, repeats: double?.name ?? null }
    return { ...input, ledger: input.ledger + entry.amount, byHand: [made] }
  }
  /** Everything that moved the account, as leads look through it. */
  const movementsOf = (input: ProofInput, month: BookedMonth, lines: readonly ActivityLine[]): Movement[] => [
    { name: 'balance reported', date: input.date, amount: input.reported },
    ...postedOf(month, input.date),
    ...lines
      .filter(line => line.source === 'openhall' && line.currency === 'EUR')
      .map(line => ({ name: line.lineId, date: zone.localDate(line.instant), amount: line.amount })),
  ]

  it('an entry posted twice is named as the double of the other', () => {
    let planted = 0
    fc.assert(
      fc.property(euro, ([lines, date, which]) => {
        const { month } = proved(lines, date)
        const entries = postedOf(month, date)
        const entry = entries[which % Math.max(1, entries.length)]
        if (!entry) return
        planted++
        const { proof } = proved(lines, date, one => byHand(one, month, { ...entry, name: 'hand' }))
        expect(proof.unexplained).toBe(0)
        const double = proof.causes.find(cause => cause.cause === 'double')
        expect(double).toMatchObject({ amount: -entry.amount })
        expect(double?.documents[0]?.name).toMatch(/^hand of /)
      }),
      runs(200),
    )
    expect(planted).toBeGreaterThan(50)
  })

  it('an entry made by hand is named', () => {
    fc.assert(
      fc.property(euro, fc.integer({ min: 100_001, max: 200_000 }), ([lines, date], amount) => {
        const { month } = proved(lines, date)
        const { proof } = proved(lines, date, one => byHand(one, month, { name: 'hand', date, amount }))
        const byHandCause = proof.causes.find(cause => cause.cause === 'by_hand')
        expect(byHandCause).toMatchObject({ amount: -amount, documents: [{ name: 'hand', date, amount: -amount }] })
        expect(proof.outcome).toBe('explained')
        expect(proof.unexplained).toBe(0)
      }),
      runs(100),
    )
  })

  it('a line that the source left out is named by the settlement that does not foot without it', () => {
    let planted = 0
    fc.assert(
      fc.property(madeMonths({ minLength: 20, maxLength: 60 }), fc.nat(), (lines, which) => {
        const mine = lines.filter(
          line => line.source === 'openhall' && line.currency === 'EUR' && line.settlementId === 'S1',
        )
        const moving = mine.filter(line => line.status === 'available' && line.amount !== 0)
        const lost = moving[which % Math.max(1, moving.length)]
        if (!lost) return
        planted++
        const setup = madeSetup({})
        const booked = mine.filter(line => isBooked(line, setup))
        const head: SettlementHead = {
          settlementId: 'S1',
          periodStart: '2026-02-01',
          periodEnd: '2026-04-30',
          currency: 'EUR',
          openingBalance: 0,
          closingBalance: sumMinor(booked, line => line.amount),
          payoutDate: null,
          payoutReference: null,
          url: null,
        }
        const rest = lines.filter(line => line !== lost)
        const month = monthOf(rest, setup, new Map([['openhall', [head]]]))
        const settlement = month.booked.settlements.find(
          one => one.name === 'S1' && one.activity.source === 'openhall' && one.activity.currency === 'EUR',
        )
        const foot = settlement?.composed.blocks.find(block => block.reason === 'does_not_foot')
        const at = { account, date: '2026-04-30' }
        const proof = proveClearing(proofOfBooked({ ...at, reported: heldAt(lines, setup, at) }, month))
        if (isStock(lost.kind) || !settlement) return
        expect(foot?.amount).toBe(lost.amount)
        expect(proof.unexplained).toBe(lost.amount)
        const leads = findLeads(
          proof.unexplained,
          rest.map(line => ({ name: line.lineId, date: zone.localDate(line.instant), amount: line.amount })),
          { unfooted: [{ name: 'S1', date: at.date, amount: foot?.amount ?? 0 }] },
        )
        expect(leads[0]).toMatchObject({ sort: 'does_not_foot', movements: [{ name: 'S1' }] })
      }),
      runs(200),
    )
    expect(planted).toBeGreaterThan(100)
  })

  it('digits changed over in the reported balance are among the first three leads, unless something explains it as well', () => {
    const counts = { planted: 0, beaten: 0 }
    fc.assert(
      fc.property(euro, ([lines, date]) => {
        const { input, month } = proved(lines, date)
        const digits = [...String(Math.abs(input.reported))]
        const at = digits.findIndex((digit, place) => place > 0 && digit !== digits[place - 1])
        // A zero in front would be lost, and with it which digits changed places.
        if (at < 1 || (at === 1 && digits[1] === '0')) return
        counts.planted++
        const swapped = Number(
          digits
            .with(at, digits[at - 1] as string)
            .with(at - 1, digits[at] as string)
            .join(''),
        )
        const wrong = { ...input, reported: Math.sign(input.reported) * swapped }
        const proof = proveClearing(wrong)
        expect(proof.unexplained).toBe(wrong.reported - input.reported)
        const leads = findLeads(proof.unexplained, movementsOf(wrong, month, lines))
        const place = leads.findIndex(
          lead => lead.sort === 'swapped_digits' && lead.movements[0].name === 'balance reported',
        )
        expect(place).toBeGreaterThanOrEqual(0)
        if (place > 2) counts.beaten++
      }),
      runs(300),
    )
    expect(counts.planted).toBeGreaterThan(100)
    expect(counts.beaten).toBeLessThan(counts.planted * 0.02)
  })
})
