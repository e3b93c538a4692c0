import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { isPayout, isReserve, isStock } from '../activity/kinds.ts'
import { addDays } from '../activity/localDate.ts'
import { zoneOf } from '../activity/zone.ts'
import { bookActivity, isBooked } from '../composing/bookActivity.ts'
import type { Setup } from '../composing/setup.ts'
import { sumMinor } from '../money/minor.ts'
import { madeMonths, madeOptions, seed } from '../testing/madeMonths.ts'
import { currencies, madeSetup } from '../testing/madeSetup.ts'
import { findDoubles } from './findDoubles.ts'
import { findLeads, type Movement } from './findLeads.ts'
import { type BookedMonth, proofOfBooked } from './proofOfBooked.ts'
import { type Proof, type ProofInput, proveClearing } from './proveClearing.ts'

const zone = zoneOf('Europe/Dublin')
const monthOf = (
  lines: readonly ActivityLine[],
  setup: Setup,
  heads: ReadonlyMap<string, readonly SettlementHead[]> = new Map(),
): BookedMonth => ({
  setup,
  zone,
  lines,
  heads,
  booked: bookActivity({ lines, heads, zone, cutOffMinutes: 270 }, setup),
  pairings: null,
})

/** What the processor behind a clearing account holds at the end of a date, from nothing but its own lines. */
const heldAt = (lines: readonly ActivityLine[], setup: Setup, at: { account: string; date: string }): number =>
  sumMinor(lines, line => {
    const source = setup.sources.get(line.source)
    if (!source || source.clearing[line.currency] !== at.account || source.shape === 'channel') return 0
    if (line.status === 'failed' || isStock(line.kind) || zone.localDate(line.instant) > at.date) return 0
    if (isPayout(line.kind) && source.options.payoutsLeaveBalance === 'arrived') return 0
    if (isReserve(line.kind) && source.options.reservesStayOnBalance && line.status === 'available') return 0
    return line.amount
  })

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
    expect(causes).toBeGreaterThan(1000)
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
  const postedOf = ({ settlements }: ProofInput, date: string) =>
    settlements.flatMap(one =>
      one.entries
        .filter(entry => entry.amount !== 0 && entry.date <= date)
        .map(entry => ({ ...entry, name: one.name })),
    )
  const byHand = (input: ProofInput, entry: Movement): ProofInput => {
    const [double] = findDoubles([entry], postedOf(input, input.date))
    return { ...input, ledger: input.ledger + entry.amount, byHand: [{ ...entry, doubleOf: double?.name ?? null }] }
  }
  /** Everything that moved the account, as leads look through it. */
  const movementsOf = (input: ProofInput, lines: readonly ActivityLine[]): Movement[] => [
    { name: 'balance reported', date: input.date, amount: input.reported },
    ...postedOf(input, input.date),
    ...lines
      .filter(line => line.source === 'openhall' && line.currency === 'EUR')
      .map(line => ({ name: line.lineId, date: zone.localDate(line.instant), amount: line.amount })),
  ]

  it('an entry posted twice is named as the double of the other', () => {
    let planted = 0
    fc.assert(
      fc.property(euro, ([lines, date, which]) => {
        const { input } = proved(lines, date)
        const entries = postedOf(input, date)
        const entry = entries[which % Math.max(1, entries.length)]
        if (!entry) return
        planted++
        const { proof } = proved(lines, date, one => byHand(one, { ...entry, name: 'hand' }))
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
        const { proof } = proved(lines, date, one => byHand(one, { name: 'hand', date, amount }))
        expect(proof.causes).toContainEqual({
          cause: 'by_hand',
          amount: -amount,
          documents: [{ name: 'hand', date, amount: -amount }],
        })
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
        const { input } = proved(lines, date)
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
        const leads = findLeads(proof.unexplained, movementsOf(wrong, lines))
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
