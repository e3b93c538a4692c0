import { readFileSync } from 'node:fs'
import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ensurePerson } from './access/practice.ts'
import { type Actor, asClient, rowsOf } from './database/connect.ts'
import { is } from './database/rows.ts'
import { postSettlements } from './settlements/postSettlements.ts'
import { takeBack } from './settlements/takeBack.ts'
import {
  booksOf,
  makeClient,
  makeClientWithWeeks,
  makeWeeks,
  settlementKeys,
  testDatabase,
  testUrl,
} from './testing/madeClient.ts'
import {
  askAs,
  askServer,
  openhallWith,
  type RunningServer,
  runningServer,
  runningStandIns,
} from './testing/runningServer.ts'

const database = testDatabase(16)
let standIns: Awaited<ReturnType<typeof runningStandIns>>
let server: RunningServer
let api: string
const startServer = () => server.start()
const killServer = () => server.kill()

beforeAll(async () => {
  const orla = { email: 'orla.quill@ternandtally.example', name: 'Orla Quill' }
  await askAs(database, await ensurePerson(database, orla))
  standIns = await runningStandIns()
  server = await runningServer(testUrl())
  api = server.api
})
afterAll(async () => {
  await killServer()
  standIns.kill()
  await database.$client.end()
  if (process.env.POSTGRES_LOG) expect(readFileSync(process.env.POSTGRES_LOG, 'utf8')).not.toMatch(/deadlock detected/)
})

const checkWhole = async (actor: Actor): Promise<void> => {
  const books = await booksOf(database, actor)
  for (const { account, lines, totals } of books.balances) expect(totals, `total of ${account}`).toBe(lines)
  expect(books.numbers?.count).toBe(books.numbers?.highest)
  expect(books.numbers?.next).toBe(books.numbers?.count)
}

const put = (path: string, body: unknown) => standIns.put(path, body)

it('pulls everything once although the server is killed again and again, and the source misbehaves', async () => {
  const weeks = makeWeeks(40, 40)
  await put('/control/services/openhall', openhallWith(weeks))
  await put('/control/faults', {
    slowMs: 150,
    failEvery: 7,
    cutOffEvery: 11,
    repeatPageEvery: 3,
    shuffle: true,
    expireTokenEvery: 5,
  })
  const actor = await makeClient(database, 'Killed while pulling', {
    address: `${standIns.url}/services/openhall/shops/kiln-lane`,
  })
  const stored = () =>
    asClient(database, actor, tx =>
      rowsOf(
        tx,
        { lines: is.whole, revisions: is.whole, ids: is.whole },
        sql`
    SELECT count(*)::int AS lines, coalesce(max(revision), 0)::int AS revisions, count(DISTINCT line_id)::int AS ids FROM activity_line`,
      ),
    )
  const state = async () =>
    (
      await asClient(database, actor, tx =>
        rowsOf(tx, { state: is.text, message: is.text }, sql`SELECT state, message FROM job`),
      )
    )[0]
  await startServer()
  await askServer(api, endpoints.pull, { client: actor.clientId, params: { source: 'openhall' } })
  for (let kill = 0; kill < 3; kill++) {
    const before = (await stored())[0]?.lines ?? 0
    await expect
      .poll(async () => (await stored())[0]?.lines ?? 0, { timeout: 20_000, interval: 20 })
      .toBeGreaterThan(before)
    expect(await state(), 'killed while it runs').toMatchObject({ state: 'running' })
    await killServer()
    await startServer()
  }
  await expect.poll(state, { timeout: 50_000, interval: 200 }).toMatchObject({ state: 'done' })
  expect(await stored()).toEqual([{ lines: weeks.lines.length, revisions: 1, ids: weeks.lines.length }])
  await put('/control/faults', {})
  const states = (await booksOf(database, actor)).states
  expect(states).toEqual({ proposed: 40 })
  await killServer()
}, 90_000)

describe('a first fill of 26 weeks, the server killed once in it', () => {
  const weeks = makeWeeks(26, 50)
  const at = 'openhall/shops/kiln-lane'
  const storedOf = (actor: Actor) =>
    asClient(database, actor, tx =>
      rowsOf(
        tx,
        { id: is.text, kind: is.text, amount: is.minor, settlement: is.maybe(is.text) },
        sql`SELECT line_id AS id, kind, amount, settlement_id AS settlement FROM line_as_of l
          WHERE client_id = current_client() AND to_pull IS NULL ORDER BY line_id COLLATE "C"`,
      ),
    )
  const minor = (amount = '') => Math.round(Number(amount) * 100)
  // Of what the stand-in tells twice the later counts.
  const told = (lines: readonly Readonly<Record<string, string>>[]) =>
    [...new Map(lines.map(line => [line.line_id ?? '', line])).values()]
      .map(line => ({
        ...{ id: line.line_id ?? '', kind: line.kind ?? '', amount: minor(line.amount) },
        settlement: line.settlement_id || null,
      }))
      .sort((left, right) => (left.id < right.id ? -1 : 1))

  it.each([
    ['slow', { slowMs: 120 }],
    ['asks to wait', { tooManyEvery: 9, slowMs: 40 }],
    ['fails', { failEvery: 4, slowMs: 40 }],
    ['breaks off', { cutOffEvery: 5, slowMs: 40 }],
    ['sends a page twice', { repeatPageEvery: 2, slowMs: 60 }],
    ['out of order', { shuffle: true, slowMs: 60 }],
    ['its tokens run out', { expireTokenEvery: 2, slowMs: 40 }],
    ['without an end', { endless: true, slowMs: 60 }],
    ['corrected late', { slowMs: 120 }],
  ])(
    'is whole where the source is %s',
    async (fault, faults) => {
      await put('/control/faults', {})
      await put('/control/services/openhall', openhallWith(weeks))
      await put('/control/faults', faults)
      const actor = await makeClient(database, `Filled: ${fault}`, { address: `${standIns.url}/services/${at}` })
      const count = async () => (await storedOf(actor)).length
      const job = async () =>
        (
          await asClient(database, actor, tx =>
            rowsOf(
              tx,
              { state: is.text },
              sql`SELECT state FROM job WHERE sort = 'pull' ORDER BY ordinal DESC LIMIT 1`,
            ),
          )
        )[0]?.state
      const pull = () => askServer(api, endpoints.pull, { client: actor.clientId, params: { source: 'openhall' } })
      const isOver = fault === 'without an end' ? 'failed' : 'done'
      await startServer()
      await pull()
      await expect.poll(count, { timeout: 30_000, interval: 15 }).toBeGreaterThan(0)
      expect(await job(), 'killed while it runs').toBe('running')
      await killServer()
      let lines = weeks.lines
      if (fault === 'corrected late') {
        const [first, second] = weeks.lines
        const late = [
          { ...first, amount: (Number(first?.amount) + 1).toFixed(2) },
          { ...second, line_id: 'LATE-1' },
        ] as typeof weeks.lines
        lines = [...weeks.lines, ...late]
        const added = await fetch(`${standIns.url}/control/services/${at}/lines`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ lines: late }),
        })
        expect(added.status).toBe(200)
      }
      await startServer()
      await expect.poll(job, { timeout: 60_000, interval: 100 }).toBe(isOver)
      expect(await storedOf(actor)).toEqual(told(lines))
      // Once more, and nothing comes twice.
      await put('/control/faults', {})
      await pull()
      await expect.poll(job, { timeout: 60_000, interval: 100 }).toBe('done')
      expect(await storedOf(actor)).toEqual(told(lines))
      await killServer()
    },
    120_000,
  )
})

it('posts each once although the server is killed in the middle', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Killed while posting', 60, 4)
  for (let round = 0; round < 3; round++) {
    await startServer()
    const posts = keys.map(key =>
      askServer(api, endpoints.post, { client: actor.clientId, body: { keys: [key] } }).catch(() => null),
    )
    await new Promise(resolve => setTimeout(resolve, 60 + 70 * round))
    await killServer()
    await Promise.all(posts)
    await checkWhole(actor)
  }
  await startServer()
  await askServer(api, endpoints.post, { client: actor.clientId, body: { keys } })
  await checkWhole(actor)
  const books = await booksOf(database, actor)
  expect(books.states).toEqual({ posted: 60 })
  expect(books.numbers?.count).toBe(120)
  await killServer()
}, 90_000)

it('goes on posting many where it was killed, and posts each once', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Killed while posting many', 900, 1)
  await startServer()
  const asked = await askServer(api, endpoints.post, { client: actor.clientId, body: { keys } })
  expect(asked.status).toBe(202)
  const { job } = (await asked.json()) as { job: string }
  const state = async () => {
    const [row] = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { state: is.text, done: is.whole, outcome: is.anything },
        sql`SELECT state, done, outcome FROM job WHERE job_id = ${job}`,
      ),
    )
    return row
  }
  for (const least of [0, 200]) {
    await expect.poll(async () => (await state())?.done ?? 0, { timeout: 30_000, interval: 10 }).toBeGreaterThan(least)
    await killServer()
    expect((await state())?.state).toBe('running')
    await checkWhole(actor)
    await startServer()
  }
  await expect.poll(async () => (await state())?.state, { timeout: 60_000, interval: 200 }).toBe('done')
  const { outcome } = (await state()) ?? {}
  const { posted, notPosted, entries } = outcome as Awaited<ReturnType<typeof postSettlements>>
  expect({ posted: posted.length, notPosted, entries }).toEqual({ posted: 900, notPosted: [], entries: 1800 })
  expect((await booksOf(database, actor)).states).toEqual({ posted: 900 })
  await checkWhole(actor)
  await killServer()
}, 120_000)

it('keeps the books whole while its connections are terminated between statements', async () => {
  const { actor } = await makeClientWithWeeks(database, 'Terminated', 40, 4)
  const keys = await settlementKeys(database, actor)
  const admin = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await admin.connect()
  let working = true
  let terminated = 0
  const terminating = (async () => {
    while (working) {
      const { rowCount } = await admin.query(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity
        WHERE usename = 'culvert_app' AND datname = current_database() AND query !~ 'pgboss' ORDER BY random() LIMIT 1`)
      terminated += rowCount ?? 0
      await new Promise(resolve => setTimeout(resolve, 4 + Math.random() * 14))
    }
  })()
  let failures = 0
  await Promise.all(
    Array.from({ length: 8 }, async (_, worker) => {
      for (let round = 0; round < 12; round++) {
        const mine = keys.filter((__, index) => (index + worker) % 4 === round % 4)
        const act = (worker + round) % 3 === 0 ? takeBack : postSettlements
        await act(database, actor, mine).catch(() => {
          failures++
        })
      }
    }),
  )
  working = false
  await terminating
  await admin.end()
  expect(terminated).toBeGreaterThan(20)
  expect(failures).toBeGreaterThan(0)
  await checkWhole(actor)
  await postSettlements(database, actor, keys)
  await checkWhole(actor)
  expect((await booksOf(database, actor)).states).toEqual({ posted: 40 })
}, 90_000)
