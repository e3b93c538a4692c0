import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ActivityLine } from '../activity/activityLine.ts'
import { addDays } from '../activity/localDate.ts'
import type { DraftEntry } from '../composing/draft.ts'
import type { Setup } from '../composing/setup.ts'
import { madeMonths, madeOptions, seed } from '../testing/madeMonths.ts'
import { madeRoute, madeRoutes, madeSetup } from '../testing/madeSetup.ts'
import { heldAt, monthOf } from '../testing/provedMonth.ts'
import { findLeads } from './findLeads.ts'
import { type BookedMonth, proofOfBooked } from './proofOfBooked.ts'
import { type Proof, proveClearing } from './proveClearing.ts'

const account = '12-openhall-EUR'
const dates = Array.from({ length: 13 }, (_, week) => addDays('2026-02-08', 7 * week))

/** What is wrong from a date on, on the account: whatever the proof says then, it may not be closed. */
interface Wrong {
  /** Date of the entry (local). */
  readonly from: string
  readonly amount: number
}

/** The proof on each of the dates, whoever made the books. */
const provedOn = (lines: readonly ActivityLine[], setup: Setup, month: BookedMonth): [string, Proof][] =>
  dates.map(date => {
    const reported = heldAt(lines, setup, { account, date })
    return [date, proveClearing(proofOfBooked({ account, date, reported }, month))]
  })

const amountOn = (entry: DraftEntry): number =>
  entry.lines.reduce((sum, line) => sum + (line.account === account ? line.amount : 0), 0)

/** Another set of entries in place of one settlement's. */
const withEntries = (month: BookedMonth, place: number, entries: readonly DraftEntry[]): BookedMonth => ({
  ...month,
  booked: {
    ...month.booked,
    settlements: month.booked.settlements.map((one, index) =>
      index === place ? { ...one, composed: { ...one.composed, entries } } : one,
    ),
  },
})

/** What can happen to one entry after it was made. */
const changes: Record<string, (entry: DraftEntry) => DraftEntry[]> = {
  deleted: () => [],
  doubled: entry => [entry, entry],
  'turned round': entry => [{ ...entry, lines: entry.lines.map(line => ({ ...line, amount: -line.amount })) }],
  'changed by a cent': entry => [
    {
      ...entry,
      lines: entry.lines.map(line => (line.account === account ? { ...line, amount: line.amount + 1 } : line)),
    },
  ],
  'sent to another account': entry => [
    { ...entry, lines: entry.lines.map(line => (line.account === account ? { ...line, account: '6900' } : line)) },
  ],
}

const months = madeMonths({ minLength: 20, maxLength: 60 })

describe(`a proof is never closed with an error in it (seed ${seed})`, () => {
  for (const [what, change] of Object.entries(changes))
    it(`where an entry was ${what}`, () => {
      let planted = 0
      fc.assert(
        fc.property(months, madeOptions, fc.nat(), (lines, options, which) => {
          const setup = madeSetup({ options })
          const month = monthOf(lines, setup)
          const places = month.booked.settlements.flatMap((one, place) =>
            one.composed.entries.flatMap((entry, at) => (amountOn(entry) === 0 ? [] : [{ place, at, entry }])),
          )
          const hit = places[which % Math.max(1, places.length)]
          if (!hit) return
          const all = month.booked.settlements[hit.place]?.composed.entries ?? []
          const made = change(hit.entry)
          const wrong: Wrong = {
            from: hit.entry.date,
            amount: made.reduce((sum, entry) => sum + amountOn(entry), 0) - amountOn(hit.entry),
          }
          if (wrong.amount === 0) return
          planted++
          const broken = withEntries(month, hit.place, [...all.slice(0, hit.at), ...made, ...all.slice(hit.at + 1)])
          for (const [date, proof] of provedOn(lines, setup, broken)) {
            if (date < wrong.from) continue
            expect(proof.outcome, `${date}, ${JSON.stringify(proof.causes)}`).toBe('open')
            expect(proof.unexplained).toBe(-wrong.amount)
            const lead = findLeads(proof.unexplained, [], { wrongEntries: proof.wrongEntries })[0]
            expect(lead).toMatchObject({ sort: 'wrong_entry', movements: [{ amount: wrong.amount }] })
          }
        }),
        { numRuns: 80, seed },
      )
      expect(planted).toBeGreaterThan(40)
    })

  it('where a route sends lines of a source to its own clearing account', () => {
    let planted = 0
    fc.assert(
      fc.property(months, madeOptions, (lines, options) => {
        const sales = lines.map(line =>
          line.source === 'openhall' && line.currency === 'EUR' ? { ...line, kind: 'sale' as const } : line,
        )
        const route = madeRoute('sale', account, null, { category: 'Tableware', source: 'openhall' })
        const setup = madeSetup({ options, routes: [...madeRoutes, route] })
        for (const [date, proof] of provedOn(sales, setup, monthOf(sales, setup))) {
          const wrong = proof.wrongEntries.reduce((sum, entry) => sum + entry.amount, 0)
          expect(proof.unexplained).toBe(-wrong || 0)
          if (wrong === 0) continue
          planted++
          expect(proof.outcome, date).toBe('open')
        }
      }),
      { numRuns: 80, seed },
    )
    expect(planted).toBeGreaterThan(40)
  })

  it('where another source’s fee is sent to the account', () => {
    let planted = 0
    fc.assert(
      fc.property(months, madeOptions, (lines, options) => {
        const fees = lines.map(line =>
          line.source === 'counterpay' && line.currency === 'EUR' ? { ...line, kind: 'processing_fee' as const } : line,
        )
        const route = madeRoute('processing_fee', account, null, { source: 'counterpay' })
        const setup = madeSetup({ options, routes: [...madeRoutes, route] })
        for (const [, proof] of provedOn(fees, setup, monthOf(fees, setup))) {
          const wrong = proof.wrongEntries.reduce((sum, entry) => sum + entry.amount, 0)
          expect(proof.unexplained).toBe(-wrong || 0)
          if (proof.wrongEntries.length === 0) continue
          planted++
          expect(proof.outcome).toBe('open')
        }
      }),
      { numRuns: 60, seed },
    )
    expect(planted).toBeGreaterThan(40)
  })

  it('where a balance is wrong, or a line is missing in the books', () => {
    let planted = 0
    fc.assert(
      fc.property(months, madeOptions, fc.integer({ min: 1, max: 9 }), fc.nat(), (lines, options, cents, which) => {
        const setup = madeSetup({ options })
        const own = lines.filter(line => line.source === 'openhall' && line.currency === 'EUR' && line.amount !== 0)
        const lost = own[which % Math.max(1, own.length)]
        const rest = monthOf(
          lines.filter(line => line !== lost),
          setup,
        )
        for (const date of dates) {
          const reported = heldAt(lines, setup, { account, date })
          const wrong = proveClearing(
            proofOfBooked({ account, date, reported: reported + cents }, monthOf(lines, setup)),
          )
          expect(wrong.outcome).toBe('open')
          const without = heldAt(
            lines.filter(line => line !== lost),
            setup,
            { account, date },
          )
          if (without === reported) continue
          planted++
          expect(proveClearing(proofOfBooked({ account, date, reported }, rest)).outcome).toBe('open')
        }
      }),
      { numRuns: 25, seed },
    )
    expect(planted).toBeGreaterThan(40)
  })
})
