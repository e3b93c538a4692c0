import { addDays, defaultOptions, formatAmount } from '@culvert/core'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, expect, it } from 'vitest'
import { importBalances } from '../activity/importBalances.ts'
import { loadOpening, postOpening, undoOpening } from '../books/openingBalances.ts'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { saveOptions } from '../sources/sourceOptions.ts'
import { csvOf, makeClient, makeWeeks, type Row, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'
import { loadProofPage } from './loadClearing.ts'
import { loadCutOver } from './loadCutOver.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

const seed = Number(process.env.CULVERT_SEED ?? 20_260_301)
const cents = (text: string | undefined): number => Math.round(Number(text) * 100)
const dayOf = (row: Row): string => (row.occurred_at ?? '').slice(0, 10)
const heldOn = (lines: readonly Row[], date: string): number =>
  lines.reduce((sum, row) => sum + (dayOf(row) <= date ? cents(row.amount) : 0), 0)

/** Weeks of a marketplace that keeps five euros of each back, so that it holds something at each week's end. */
const weeksWithRest = (count: number) => {
  const { lines, heads } = makeWeeks(count, 4)
  return {
    lines: lines.map(row =>
      row.kind === 'payout' ? { ...row, amount: formatAmount(cents(row.amount) + 500, 'EUR') } : row,
    ),
    heads: heads.map(
      (head, week): Row => ({
        ...head,
        opening_balance: formatAmount(500 * week, 'EUR'),
        closing_balance: formatAmount(500 * (week + 1), 'EUR'),
      }),
    ),
  }
}
type Weeks = ReturnType<typeof weeksWithRest>

/** What the former books hold at the end of the day before the first one here: settlements that had ended, and what was paid out of them by then. */
const leftAt = ({ lines, heads }: Weeks, from: string, withHeads: boolean) => {
  let [held, elsewhere] = [0, 0]
  for (const head of heads) {
    const own = lines.filter(row => row.settlement_id === head.settlement_id)
    const paid = own.filter(row => row.kind === 'payout')
    const rest = own.filter(row => row.kind !== 'payout')
    const end = (withHeads ? head.period_end : rest.map(dayOf).sort().at(-1)) ?? ''
    if (end >= from) continue
    held += rest.reduce((sum, row) => sum + cents(row.amount), 0)
    if ((withHeads ? (head.payout_date ?? '') : dayOf(paid[0] as Row)) >= from) continue
    held += cents(paid[0]?.amount)
    elsewhere++
  }
  return { held, elsewhere }
}

const setFirstDay = (actor: Actor, bookedFrom: string | null, splitAtMonthEnd = false) =>
  saveOptions(database, actor, {
    source: 'openhall',
    options: { ...defaultOptions, detail: [], splitAtMonthEnd, bookedFrom },
  })

const bring = async (actor: Actor, { lines, heads }: Weeks, withHeads = true): Promise<void> => {
  if (withHeads) await upload(database, actor, csvOf(heads), 'settlements.csv')
  await upload(database, actor, csvOf(lines))
  const days = [...new Set(lines.map(dayOf))]
  await asClient(database, actor, tx =>
    importBalances(
      tx,
      'openhall',
      days.map(date => ({ currency: 'EUR', date, available: heldOn(lines, date), pending: 0, reserve: 0 })),
    ),
  )
}

const open = (actor: Actor, date: string, amount: number) =>
  postOpening(database, actor, {
    date,
    lines: [
      { account: '1210', amount },
      { account: '2200', amount: -amount },
    ],
  })

const proofAt = (actor: Actor, date: string) =>
  asClient(database, actor, tx => loadProofPage(tx, '1210', { date, currency: null }))
const cutOverOf = async (actor: Actor) => (await asClient(database, actor, tx => loadCutOver(tx, 'openhall'))).cutOver
const statesOf = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(tx, { key: is.text, state: is.text }, sql`SELECT key, state FROM settlement ORDER BY key`),
  )

it('leaves what ended before the first day to other books, and holds the opening balance against the processor', async () => {
  const actor = await makeClient(database, 'Cut over')
  const weeks = weeksWithRest(5)
  await bring(actor, weeks)
  expect(await cutOverOf(actor)).toBeNull()
  await setFirstDay(actor, '2026-01-19')
  expect((await statesOf(actor)).map(row => row.state)).toEqual([
    'elsewhere',
    'proposed',
    'proposed',
    'proposed',
    'proposed',
  ])
  expect((await asClient(database, actor, loadOpening)).before).toBe('2026-01-18')
  expect(await cutOverOf(actor)).toMatchObject({
    lastDay: '2026-01-18',
    settlements: 1,
    until: '2026-01-11',
    accounts: [{ account: '1210', opening: 0, reported: 1000, outcome: 'open' }],
  })
  // The second week was paid out on the 20th: its payout alone is booked here, and was on its way.
  const { held } = leftAt(weeks, '2026-01-19', true)
  await open(actor, '2026-01-18', held)
  const keys = await settlementKeys(database, actor)
  const { notPosted } = await postSettlements(database, actor, keys)
  expect(notPosted.map(one => one.reason)).toEqual(['elsewhere'])
  expect((await cutOverOf(actor))?.accounts).toMatchObject([
    {
      opening: held,
      reported: 1000,
      difference: 0,
      causes: [{ cause: 'payout_on_its_way', amount: 1000 - held }],
      outcome: 'closed',
    },
  ])
  const documents = await asClient(database, actor, tx =>
    rowsOf(tx, { document: is.text, date: is.date }, sql`SELECT document, date::text FROM entry WHERE key = 'W-00002'`),
  )
  expect(documents).toEqual([{ document: 'transfer', date: '2026-01-20' }])
  expect(await proofAt(actor, '2026-02-08')).toMatchObject({ outcome: 'closed', unexplained: 0 })
  // What is posted is not moved to other books.
  await expect(setFirstDay(actor, '2026-01-26')).rejects.toThrow(/Take them back first/)
  await takeBack(database, actor, keys)
  await setFirstDay(actor, null)
  expect((await statesOf(actor)).map(row => row.state)).toEqual(Array(5).fill('proposed'))
})

it('dates what a settlement over the first day has of the time before by that day', async () => {
  const actor = await makeClient(database, 'Cut over in a week')
  await bring(actor, weeksWithRest(5))
  // The week of 26 January runs over the month's end; the one before it ended elsewhere.
  await setFirstDay(actor, '2026-02-01', true)
  await open(actor, '2026-01-31', 1500)
  expect(await cutOverOf(actor)).toMatchObject({ accounts: [{ opening: 1500, difference: 0, outcome: 'explained' }] })
  await postSettlements(database, actor, await settlementKeys(database, actor))
  expect(await cutOverOf(actor)).toMatchObject({
    accounts: [{ difference: 0, causes: [{ cause: 'after_cut_off' }], outcome: 'closed' }],
  })
  const { first } = await asClient(database, actor, tx =>
    oneRow(tx, { first: is.date }, sql`SELECT min(date)::text AS first FROM entry WHERE document <> 'opening'`),
  )
  expect(first).toBe('2026-02-01')
  for (const date of ['2026-02-01', '2026-02-05', '2026-02-08'])
    expect(await proofAt(actor, date)).toMatchObject({ outcome: 'closed', unexplained: 0 })
})

it('closes no account over an opening balance that is not what the processor held', async () => {
  const weeks = weeksWithRest(6)
  let round = 0
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 1, max: 34 }),
      fc.constantFrom(0, 0, 1, -300, 500),
      fc.boolean(),
      fc.boolean(),
      fc.boolean(),
      async (day, error, splits, withHeads, before) => {
        const from = addDays('2026-01-05', day)
        const actor = await makeClient(database, `Opened by ${++round}`)
        if (before) await setFirstDay(actor, from, splits)
        await bring(actor, weeks, withHeads)
        if (!before) await setFirstDay(actor, from, splits)
        const { held, elsewhere } = leftAt(weeks, from, withHeads)
        expect((await statesOf(actor)).filter(row => row.state === 'elsewhere')).toHaveLength(elsewhere)
        const opening = held + error
        if (opening !== 0) await open(actor, addDays(from, -1), opening)
        const outcomes = async () => {
          const found = []
          for (const date of [addDays(from, -1), from, addDays(from, 3), '2026-02-15'])
            found.push((await proofAt(actor, date))?.outcome)
          return found
        }
        if (error !== 0) expect(await outcomes()).not.toContain('closed')
        await postSettlements(database, actor, await settlementKeys(database, actor))
        if (error === 0) expect(await outcomes()).toEqual(Array(4).fill('closed'))
        else expect(await outcomes()).not.toContain('closed')
        if (error !== 0 && opening !== 0) {
          await undoOpening(database, actor)
          if (held !== 0) expect(await outcomes()).not.toContain('closed')
        }
      },
    ),
    { numRuns: Number(process.env.CULVERT_RUNS ?? 12), seed, endOnFailure: true },
  )
}, 120_000)
