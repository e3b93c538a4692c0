import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { countsBy } from '../activity/countsBy.ts'
import { loadMonthState } from '../close/loadMonthState.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { saveLabels } from '../payments/saveLabels.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { monthChecks } from '../stages.ts'
import {
  booksOf,
  csvOf,
  makeClient,
  makeClientWithWeeks,
  makeWeeks,
  type Row,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { linesOf } from '../testing/writers.ts'
import { openStore } from './storeActivity.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

/** What is kept of each week, and what the lines as they are now add up to. */
const weeksOf = (actor: Actor) =>
  asClient(database, actor, async tx => ({
    kept: await rowsOf(
      tx,
      {},
      sql`SELECT kind, category, week::text, amount, lines FROM activity_week WHERE lines <> 0 OR amount <> 0 ORDER BY 1, 2, 3`,
    ),
    counted: await rowsOf(
      tx,
      {},
      sql`SELECT kind, coalesce(category, '') AS category, date_trunc('week', local_date)::date::text AS week,
          sum(amount)::bigint AS amount, count(*)::int AS lines
        FROM activity_line l WHERE status <> 'failed' AND NOT EXISTS (SELECT FROM activity_superseded x
          WHERE x.source = l.source AND x.line_id = l.line_id AND x.revision = l.revision)
        GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`,
    ),
  }))

it('keeps the weeks at what the lines come to, over chunks, repeats and revisions', async () => {
  const actor = await makeClient(database, 'Weeks')
  // More lines than one chunk holds.
  const { lines } = makeWeeks(52, 140)
  expect(lines.length).toBeGreaterThan(20_000)
  expect(await upload(database, actor, csvOf(lines))).toMatchObject({ added: lines.length, revised: 0, same: 0 })
  const first = await weeksOf(actor)
  expect(first.kept).toEqual(first.counted)
  const revised = lines.map((line, index): Row => {
    if (index % 997 === 0) return { ...line, amount: '1.00' }
    if (index % 991 === 0) return { ...line, kind: 'tip', occurred_at: '2026-06-01T10:00:00Z' }
    return { ...line, status: index % 983 === 0 ? 'failed' : '' }
  })
  const fresh = makeWeeks(53, 140).lines.slice(-50)
  const outcome = await upload(database, actor, csvOf([...revised, ...fresh.map(line => ({ ...line, status: '' }))]))
  expect([outcome.added, outcome.revised > 50, outcome.same > 21_000]).toEqual([50, true, true])
  const second = await weeksOf(actor)
  expect(second.kept).toEqual(second.counted)
  expect(second.kept).not.toEqual(first.kept)
})

it('books what is pending where the source is set so, and corrects it when it fails', async () => {
  const line = (status: string): Row => ({
    line_id: 'p',
    settlement_id: 'P',
    occurred_at: '2026-03-03T10:00:00Z',
    kind: 'sale',
    currency: 'EUR',
    amount: '12.30',
    status,
  })
  const fee: Row = { ...line(''), line_id: 'f', kind: 'selling_fee', amount: '-1.00' }
  const key = { source: 'openhall', key: 'P', currency: 'EUR' }
  const clearingAfter = async (name: string, bookPending: boolean) => {
    const actor = await makeClient(database, name, { source: { bookPending } })
    await upload(database, actor, csvOf([line('pending'), fee]))
    await postSettlements(database, actor, [key])
    const balances: number[] = []
    const note = async () => {
      const { balances: found } = await booksOf(database, actor)
      balances.push(found.find(row => row.account === '1210')?.totals ?? 0)
    }
    await note()
    await upload(database, actor, csvOf([line('failed'), fee]))
    const outcome = await bookCorrection(database, actor, key)
    await note()
    return { balances, corrected: outcome.ok }
  }
  expect(await clearingAfter('At once', true)).toEqual({ balances: [1130, -100], corrected: true })
  expect(await clearingAfter('Once available', false)).toEqual({ balances: [-100, -100], corrected: false })
})

it('a month is not ready while lines of it are stored and not settled yet, and what was broken off is made good by the next', async () => {
  const { actor, keys, weeks } = await makeClientWithWeeks(database, 'In the midst', 1, 2)
  await postSettlements(database, actor, keys)
  const month = () => asClient(database, actor, tx => loadMonthState(tx, '2026-01', monthChecks))
  const corrections = async () => (await month()).corrections
  expect(await month()).toMatchObject({ blocked: 0, corrections: 0 })
  // A step of a pull stores; then its process is gone.
  const step = (rows: readonly Row[]) =>
    asClient(database, actor, async tx => {
      const store = openStore(tx, { source: 'openhall', by: countsBy({}), client: await loadSetup(tx) })
      for (const line of linesOf(rows, 'order')) await store.add(line)
      return store.finish('later')
    })
  const sale = weeks.lines.find(line => line.kind === 'sale') as Row
  await step([{ ...sale, amount: '99.00' }])
  expect(await month()).toMatchObject({ blocked: 1, open: true })
  // New ones, of which nothing is known yet but that they are there, may be of any month.
  await step([{ ...sale, line_id: 'new', settlement_id: 'W-NEW', occurred_at: '2026-02-03T10:00:00Z' }])
  expect(await month()).toMatchObject({ blocked: 2 })
  await saveLabels(database, actor, [])
  expect(await month()).toMatchObject({ blocked: 0 })
  expect(await corrections()).toBe(1)
})
