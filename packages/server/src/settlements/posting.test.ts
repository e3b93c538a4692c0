import { readFileSync } from 'node:fs'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { setLocked } from '../close/loadClose.ts'
import { loadMonthState } from '../close/loadMonthState.ts'
import { countStaleIn } from '../course/countStale.ts'
import { markStages } from '../course/markStages.ts'
import { stages } from '../course/stages.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { counters, monthChecks } from '../stages.ts'
import {
  booksOf,
  csvOf,
  makeClientWithWeeks,
  makeWeeks,
  type Row,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { bookCorrection } from './bookCorrection.ts'
import { postSettlements } from './postSettlements.ts'
import { sayNoDouble } from './setAside.ts'
import { takeBack } from './takeBack.ts'

const database = testDatabase(24)
afterAll(async () => {
  await database.$client.end()
  const log = process.env.POSTGRES_LOG
  if (log) expect(readFileSync(log, 'utf8')).not.toMatch(/deadlock detected/)
})

/** Balances that the settlements in `posted` must leave, added up from the activity alone. */
const expectedBalances = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { bank: is.whole, fees: is.minor },
      sql`
    SELECT coalesce(sum(-l.amount) FILTER (WHERE l.kind = 'payout'), 0)::bigint AS bank,
      coalesce(sum(-l.amount) FILTER (WHERE l.kind = 'selling_fee'), 0)::bigint AS fees
    FROM activity_line l JOIN settlement s ON s.source = l.source AND s.key = l.settlement_key WHERE s.state = 'posted'
      AND NOT EXISTS (SELECT FROM activity_line n WHERE n.source = l.source AND n.line_id = l.line_id AND n.revision > l.revision)`,
    ),
  )

const checkBooks = async (actor: Actor) => {
  const books = await booksOf(database, actor)
  for (const { account, lines, totals } of books.balances) expect(totals, `total of ${account}`).toBe(lines)
  expect(books.numbers?.count, 'numbers without gap or double').toBe(books.numbers?.highest)
  expect(books.numbers?.next).toBe(books.numbers?.count)
  const balance = new Map(books.balances.map(row => [row.account, row.totals]))
  const [expected] = await expectedBalances(actor)
  expect(balance.get('1000'), 'bank').toBe(expected?.bank)
  expect(balance.get('6000'), 'fees').toBe(expected?.fees)
  expect(balance.get('1210'), 'clearing is empty').toBe(0)
  await checkCourse(actor)
  return books
}

/** What the course shows must be what a count of everything gives, however it was kept in step. */
const checkCourse = (actor: Actor) =>
  asClient(database, actor, async tx => {
    const shown = () =>
      rowsOf(
        tx,
        {},
        sql`SELECT stage, waiting, amount, note FROM client_summary
      WHERE client_id = current_client() ORDER BY stage`,
      )
    // As it is read: what only then is counted is counted first.
    await countStaleIn(tx, counters)
    const kept = await shown()
    await markStages(tx, stages)
    await countStaleIn(tx, counters)
    expect(kept, 'the course').toEqual(await shown())
  })

describe('posting', () => {
  it('posts once from 20 connections at the same time', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Twenty at once', 50, 6)
    const outcomes = await Promise.all(
      Array.from({ length: 20 }, (_, place) =>
        postSettlements(database, actor, place % 2 ? keys : [...keys].reverse()),
      ),
    )
    expect(outcomes.reduce((sum, outcome) => sum + outcome.posted.length, 0)).toBe(50)
    const books = await checkBooks(actor)
    expect(books.states).toEqual({ posted: 50 })
    expect(books.numbers?.count).toBe(100)
    const again = await postSettlements(database, actor, keys)
    expect(again.posted).toEqual([])
    expect(again.notPosted).toHaveLength(50)
    expect((await checkBooks(actor)).numbers?.count).toBe(100)
  })

  it('stands against taking back at the same time', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Back and forth', 24, 4)
    await Promise.all(
      Array.from({ length: 16 }, async (_, worker) => {
        for (let round = 0; round < 4; round++) {
          const mine = keys.filter((_, index) => (index + worker + round) % 3 === 0)
          if ((worker + round) % 2) await postSettlements(database, actor, mine)
          else await takeBack(database, actor, mine)
        }
      }),
    )
    await checkBooks(actor)
    await postSettlements(database, actor, keys)
    expect((await checkBooks(actor)).states).toEqual({ posted: 24 })
    await takeBack(database, actor, keys)
    const books = await checkBooks(actor)
    expect(books.states).toEqual({ proposed: 24 })
    expect(
      books.balances.every(row => row.totals === 0),
      'posting and taking back leave nothing',
    ).toBe(true)
  })

  it('posts nothing into a month that is being locked', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Locking', 30, 3)
    for (const month of ['2026-01', '2026-02'])
      await setLocked(database, actor, { month, locked: true, reason: 'tried' }, monthChecks)
    const locking = (async () => {
      for (let round = 0; round < 12; round++)
        await setLocked(database, actor, { month: '2026-03', locked: round % 2 === 0, reason: 'tried' }, monthChecks)
      await setLocked(database, actor, { month: '2026-03', locked: true, reason: 'tried' }, monthChecks)
    })()
    const before = await asClient(database, actor, tx =>
      rowsOf(tx, { at: is.text }, sql`SELECT clock_timestamp()::text AS at`),
    )
    await Promise.all([locking, ...keys.map(key => postSettlements(database, actor, [key]))])
    expect(before).toHaveLength(1)
    // From here on March is locked: what is still to post goes to April, what is posted stays.
    const march = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { count: is.whole },
        sql`SELECT count(*)::int AS count FROM entry WHERE date BETWEEN '2026-03-01' AND '2026-03-31'`,
      ),
    )
    const late = await postSettlements(database, actor, keys)
    for (const refused of late.notPosted) expect(refused.reason).toBe('posted')
    const after = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { count: is.whole },
        sql`SELECT count(*)::int AS count FROM entry WHERE date BETWEEN '2026-03-01' AND '2026-03-31'`,
      ),
    )
    expect(after).toEqual(march)
    await checkBooks(actor)
  })

  it('locks months in order only, and with a reason where something is open', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'In order', 6, 3)
    const lock = (month: string, locked: boolean, reason = '') =>
      setLocked(database, actor, { month, locked, reason }, monthChecks)
    await expect(lock('2026-02', true, 'tried')).rejects.toThrow('2026-01 is still open')
    await expect(lock('2026-01', true)).rejects.toThrow('needs a reason')
    await lock('2026-01', true, 'handed over early')
    await lock('2026-02', true, 'tried')
    await expect(lock('2026-01', false)).rejects.toThrow('2026-02 is locked')
    await lock('2026-02', false)
    await lock('2026-01', false)
    const state = await asClient(database, actor, tx => loadMonthState(tx, '2026-01', monthChecks))
    expect(state).toMatchObject({
      proposed: 3,
      open: true,
      before: null,
      unproved: [{ account: '1210', outcome: null }],
    })
    await postSettlements(database, actor, keys)
    expect(await asClient(database, actor, tx => loadMonthState(tx, '2026-01', monthChecks))).toMatchObject({
      proposed: 0,
    })
  })

  it('dates a reversal in a locked month on the first open day', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'First open day', 4, 3)
    await postSettlements(database, actor, keys)
    for (const month of ['2026-01', '2026-02'])
      await setLocked(database, actor, { month, locked: true, reason: 'tried' }, monthChecks)
    await takeBack(database, actor, keys)
    const dates = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { date: is.date },
        sql`
      SELECT DISTINCT date::text FROM entry WHERE document = 'reversal' ORDER BY 1`,
      ),
    )
    expect(dates).toEqual([{ date: '2026-03-01' }])
    await checkBooks(actor)
  })
})

describe('a line that comes back changed', () => {
  it('is a correction that brings the books to where they would be', async () => {
    const { actor, keys, weeks } = await makeClientWithWeeks(database, 'Corrected', 2, 5)
    await postSettlements(database, actor, keys)
    const before = await booksOf(database, actor)
    const changed = weeks.lines.map(row => ({ ...row }))
    // The price rises and so does the fee: the settlement still foots, what it is made of does not stay.
    for (const row of changed) {
      if (row.line_id === 'W-00001-0s') row.amount = (Number(row.amount) + 12.3).toFixed(2)
      if (row.line_id === 'W-00001-0f') row.amount = (Number(row.amount) - 12.3).toFixed(2)
    }
    const outcome = await upload(database, actor, csvOf(changed))
    expect(outcome).toMatchObject({ added: 0, revised: 2, same: weeks.lines.length - 2 })
    expect((await booksOf(database, actor)).balances).toEqual(before.balances)
    const [key] = keys
    if (!key) throw new Error('no settlement')
    expect(await bookCorrection(database, actor, key)).toEqual({ ok: true, entries: 1 })
    expect(await bookCorrection(database, actor, key)).toEqual({ ok: false, reason: 'nothing_to_correct' })
    const corrected = (await checkBooks(actor)).balances
    const { actor: other, keys: otherKeys } = await makeClientWithWeeks(database, 'As if at once', 0, 0).then(
      async made => {
        await upload(database, made.actor, csvOf(weeks.heads), 'settlements.csv')
        await upload(database, made.actor, csvOf(changed))
        return { actor: made.actor, keys }
      },
    )
    await postSettlements(database, other, otherKeys)
    expect(corrected).toEqual((await booksOf(database, other)).balances)
    // Taking it back takes the correction with it.
    await takeBack(database, actor, [key])
    await postSettlements(database, actor, [key])
    expect((await checkBooks(actor)).balances).toEqual(corrected)
  })
})

describe('files', () => {
  it('come in once, also twice at the same time', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Same file twice', 0, 0)
    const weeks = makeWeeks(8, 10)
    const [heads, lines] = [csvOf(weeks.heads), csvOf(weeks.lines)]
    await Promise.all([
      upload(database, actor, heads, 'settlements.csv'),
      upload(database, actor, heads, 'settlements.csv'),
    ])
    const outcomes = await Promise.all(Array.from({ length: 4 }, () => upload(database, actor, lines)))
    expect(outcomes.reduce((sum, outcome) => sum + outcome.added, 0)).toBe(weeks.lines.length)
    expect(outcomes.reduce((sum, outcome) => sum + outcome.same, 0)).toBe(3 * weeks.lines.length)
    const stored = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { lines: is.whole, revisions: is.whole },
        sql`
      SELECT count(*)::int AS lines, max(revision)::int AS revisions FROM activity_line`,
      ),
    )
    expect(stored).toEqual([{ lines: weeks.lines.length, revisions: 1 }])
  })

  it('are refused whole, with row, column, value and what was expected', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Broken file', 0, 0)
    const { lines } = makeWeeks(1, 3)
    const broken = lines.map((row, index) =>
      index === 4 ? { ...row, amount: '12.345' } : index === 6 ? { ...row, kind: 'sold' } : row,
    )
    await expect(upload(database, actor, csvOf(broken))).rejects.toMatchObject({
      count: 2,
      faults: [
        { row: 6, column: 'amount', value: '12.345', code: 'too_many_digits' },
        { row: 8, column: 'kind', value: 'sold', code: 'unknown_kind' },
      ],
    })
    const stored = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { lines: is.whole, failed: is.whole },
        sql`
      SELECT (SELECT count(*)::int FROM activity_line) AS lines, (SELECT count(*)::int FROM job WHERE state = 'failed') AS failed`,
      ),
    )
    expect(stored).toEqual([{ lines: 0, failed: 1 }])
  })

  it.each([
    ['nothing at all', ''],
    ['a header alone', 'line_id,occurred_at,kind,currency,amount\n'],
    ['no csv', '"a,b\nc'],
    ['a column missing', 'line_id,kind,currency,amount\nA,sale,EUR,1.00\n'],
    ['a huge amount', 'line_id,occurred_at,kind,currency,amount\nA,2026-01-01T00:00:00Z,sale,EUR,1e308\n'],
    [
      'an amount out of range',
      'line_id,occurred_at,kind,currency,amount\nA,2026-01-01T00:00:00Z,sale,EUR,99999999999999999.00\n',
    ],
    [
      'a line twice',
      'line_id,occurred_at,kind,currency,amount\nA,2026-01-01T00:00:00Z,sale,EUR,1.00\nA,2026-01-01T00:00:00Z,sale,EUR,2.00\n',
    ],
    [
      'a record of two megabytes',
      `line_id,occurred_at,kind,currency,amount\n"${'x'.repeat(2_000_000)}",2026-01-01T00:00:00Z,sale,EUR,1.00\n`,
    ],
  ])('with %s is refused with a fault', async (_, text) => {
    const { actor } = await makeClientWithWeeks(database, 'Odd files', 0, 0)
    await expect(upload(database, actor, text)).rejects.toMatchObject({ name: 'FileRefused' })
  })
})

describe('a settlement that is in the ledger already', () => {
  it('under another id is held up, until somebody says it is none or the other is taken back', async () => {
    const { actor, keys, weeks } = await makeClientWithWeeks(database, 'Twice under two ids', 1, 6)
    await postSettlements(database, actor, keys)
    const renamed = (row: Row): Row => ({
      ...row,
      settlement_id: 'AGAIN',
      ...(row.line_id ? { line_id: `again-${row.line_id}` } : {}),
    })
    await upload(database, actor, csvOf(weeks.heads.map(renamed)), 'settlements.csv')
    await upload(database, actor, csvOf(weeks.lines.map(renamed)))
    const again = { source: 'openhall', key: 'AGAIN', currency: 'EUR' }
    const blocksOf = () =>
      asClient(database, actor, tx =>
        rowsOf(
          tx,
          { state: is.text, blocks: is.list(is.record({ reason: is.text, entry: is.optional(is.text) })) },
          sql`SELECT state, blocks FROM settlement WHERE key = 'AGAIN'`,
        ),
      )
    expect(await blocksOf()).toMatchObject([
      { state: 'blocked', blocks: [{ reason: 'likely_double', entry: '2026-1' }] },
    ])
    expect((await postSettlements(database, actor, [again])).notPosted).toMatchObject([{ reason: 'blocked' }])
    await takeBack(database, actor, keys)
    expect(await blocksOf()).toMatchObject([{ state: 'proposed', blocks: [] }])
    await postSettlements(database, actor, keys)
    expect((await postSettlements(database, actor, [again])).notPosted).toMatchObject([{ reason: 'blocked' }])
    await sayNoDouble(database, actor, [again])
    expect((await postSettlements(database, actor, [again])).posted).toEqual([again])
  })
})
