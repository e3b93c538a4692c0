import { readFileSync } from 'node:fs'
import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, expect, it } from 'vitest'
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
