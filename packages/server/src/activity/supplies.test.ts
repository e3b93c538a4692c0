import {
  type ActivityLine,
  bookActivity,
  composeSettlement,
  type DraftEntry,
  routeBook,
  type Setup,
  zoneOf,
} from '@culvert/core'
import { madeMonths, madeOptions, madeRoute, monthsThatGoBack, seed, withTaxRows } from '@culvert/core/testing'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { loadActivity } from '../composing/loadActivity.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { type MadeMonth, storeLines, storeSetup } from '../testing/storedMonth.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

const zone = zoneOf('Europe/Dublin')
const monthOf = (lines: readonly ActivityLine[], setup: Setup): MadeMonth => ({
  setup,
  lines,
  heads: new Map(),
  timeZone: 'Europe/Dublin',
  cutOff: '04:30',
})
/** An entry by all that it says, its routes and rows by what they do: those have other ids where they are stored. */
const said = (entries: readonly DraftEntry[]): string[] =>
  entries
    .map(({ lines, ...entry }) =>
      JSON.stringify([
        entry,
        lines.map(line => [line.account, line.taxCode, line.segments, line.amount, line.baseAmount]),
      ]),
    )
    .sort()

const byCore = (lines: readonly ActivityLine[], setup: Setup): DraftEntry[] =>
  bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 270 }, setup).settlements.flatMap(
    one => one.composed.entries,
  )
const byDatabase = async (actor: Actor): Promise<DraftEntry[]> => {
  const keys = await settlementKeys(database, actor)
  return asClient(database, actor, async tx => {
    const client = await loadSetup(tx)
    const loaded = await loadActivity(tx, client, { keys })
    return loaded.flatMap(one => composeSettlement(one.activity, client.setup).entries)
  })
}

/** What stands in the ledger, by account, tax code, segments and currency. */
const ledgerOf = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { place: is.text, amount: is.minor },
      sql`SELECT concat_ws(' ', l.account, l.tax_code, l.segments, e.currency) AS place, sum(l.amount)::bigint AS amount
        FROM entry_line l JOIN entry e USING (client_id, fiscal_year, number) WHERE l.client_id = current_client()
        GROUP BY 1 HAVING sum(l.amount) <> 0`,
    ),
  )
const byPlace = (left: { place: string }, right: { place: string }) => (left.place < right.place ? -1 : 1)
const sumsOf = (entries: readonly DraftEntry[]) => {
  const sums = new Map<string, number>()
  for (const entry of entries)
    for (const line of entry.lines) {
      const place = [line.account, line.taxCode, line.segments, entry.currency].join(' ')
      sums.set(place, (sums.get(place) ?? 0) + line.amount)
    }
  return [...sums]
    .filter(([, amount]) => amount !== 0)
    .map(([place, amount]) => ({ place, amount }))
    .sort(byPlace)
}

describe(`supplies taxed by rows, from the database (seed ${seed})`, () => {
  let round = 0
  const runs = { numRuns: Number(process.env.CULVERT_RUNS ?? 6), seed, endOnFailure: true }

  it('are booked as the core books them, line by line', async () => {
    let parted = 0
    await fc.assert(
      fc.asyncProperty(monthsThatGoBack, madeOptions, async (lines, options) => {
        const setup = withTaxRows({ options })
        const actor = await storeSetup(database, `Taxed by rows ${++round}`, monthOf(lines, setup))
        await storeLines(database, actor, monthOf(lines, setup))
        expect(said(await byDatabase(actor))).toEqual(said(byCore(lines, setup)))
        const parts = bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 270 }, setup).settlements
        parted += parts.flatMap(one => one.activity.lines).filter(line => line.part).length
      }),
      runs,
    )
    expect(parted).toBeGreaterThan(5)
  }, 120_000)

  it('each line bears what is in force on its day, wherever in a month something changes', async () => {
    const kinds = ['sale', 'processing_fee', 'shipping'] as const
    const alike = {
      source: 'openhall',
      currency: 'EUR',
      settlementId: 'W',
      status: 'available',
      taxAmount: null,
    } as const
    const plain = {
      sku: null,
      category: null,
      region: null,
      taxLabel: null,
      orderId: null,
      gateway: null,
      location: null,
    }
    const day = fc.integer({ min: 1, max: 31 }).map(number => `2026-03-${String(number).padStart(2, '0')}`)
    await fc.assert(
      fc.asyncProperty(
        madeMonths({ minLength: 60, maxLength: 60 }),
        fc.tuple(day, day, day, day),
        fc.boolean(),
        async (drawn, [route, row, recovery, rule], ruled) => {
          const lines = drawn.map((line, index) => ({ ...line, ...alike, ...plain, kind: kinds[index % 3] as 'sale' }))
          const made = withTaxRows({ options: { splitAtMonthEnd: true } }, [{ code: 'IN' }, { code: 'TWO', from: row }])
          const fee = made.taxCodes.get('FEE')
          if (!fee) throw new Error('a made code is gone')
          const setup: Setup = {
            ...made,
            routes: routeBook([...made.routes.routes, { ...madeRoute('processing_fee', '6100', 'FEE'), from: route }]),
            taxCodes: new Map([
              ...made.taxCodes,
              [
                'FEE',
                {
                  ...fee,
                  recovery: [
                    { from: '2020-01-01', percent: '100' },
                    { from: recovery, percent: '40' },
                  ],
                },
              ],
            ]),
            rules: ruled
              ? [
                  {
                    id: 1,
                    conditions: [{ field: 'localDate', is: 'after', value: rule }],
                    actions: [{ set: 'segment', name: 'season', value: 'late' }],
                  },
                ]
              : [],
          }
          const actor = await storeSetup(database, `Changes ${++round}`, monthOf(lines, setup))
          await storeLines(database, actor, monthOf(lines, setup))
          expect(said(await byDatabase(actor))).toEqual(said(byCore(lines, setup)))
        },
      ),
      runs,
    )
  }, 120_000)

  it('whatever comes later, what waits is composed anew and what is posted is corrected', async () => {
    let corrections = 0
    await fc.assert(
      fc.asyncProperty(monthsThatGoBack, fc.nat({ max: 59 }), fc.nat({ max: 2 }), async (made, turn, some) => {
        const setup = withTaxRows()
        // A payout that comes late changes the transfer, which no correction can.
        const lines = made.filter(line => line.kind !== 'payout' && line.kind !== 'payout_returned')
        const first = lines.filter((_, index) => (index * 7 + turn) % 3 !== 0)
        const later = lines.filter((_, index) => (index * 7 + turn) % 3 === 0)
        const actor = await storeSetup(database, `Later ${++round}`, monthOf(first, setup))
        await storeLines(database, actor, monthOf(first, setup))
        const keys = await settlementKeys(database, actor)
        await postSettlements(
          database,
          actor,
          keys.filter((_, place) => place % 3 >= some),
        )
        await storeLines(database, actor, monthOf(later, setup))
        // What waits says already what it would book now.
        const stored = await asClient(database, actor, tx =>
          rowsOf(
            tx,
            { source: is.text, key: is.text, currency: is.text, state: is.text, tax: is.minor, corrections: is.whole },
            sql`SELECT source, key, currency, state, tax, corrections FROM settlement WHERE client_id = current_client()`,
          ),
        )
        const wanted = new Map(
          bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 270 }, setup).settlements.map(one => [
            JSON.stringify([
              one.activity.source,
              one.activity.settlementId ?? `day:${one.activity.day}`,
              one.activity.currency,
            ]),
            one.composed.entries,
          ]),
        )
        for (const row of stored.filter(one => one.state === 'proposed')) {
          const entries = wanted.get(JSON.stringify([row.source, row.key, row.currency])) ?? []
          const tax = entries
            .flatMap(entry => entry.lines)
            .reduce((sum, line) => sum - (setup.accounts.get(line.account)?.type === 'tax' ? line.amount : 0), 0)
          expect(row.tax, `${row.source} ${row.key}`).toBe(tax)
        }
        for (const row of stored.filter(one => one.corrections > 0)) {
          corrections++
          expect(await bookCorrection(database, actor, row), JSON.stringify(row)).toEqual({
            ok: true,
            entries: expect.any(Number),
          })
        }
        await postSettlements(database, actor, await settlementKeys(database, actor))
        expect((await ledgerOf(actor)).sort(byPlace)).toEqual(sumsOf(byCore(lines, setup)))
      }),
      runs,
    )
    expect(corrections).toBeGreaterThan(5)
  }, 240_000)
})
