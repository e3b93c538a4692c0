import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { ensurePerson } from './access/practice.ts'
import { type Actor, asClient, rowsOf } from './database/connect.ts'
import { is } from './database/rows.ts'
import { booksOf, makeClient, makeWeeks, testDatabase, testUrl } from './testing/madeClient.ts'
import {
  askAs,
  askServer,
  gateTo,
  headers,
  openhallWith,
  type RunningServer,
  runningServer,
  runningStandIns,
} from './testing/runningServer.ts'

const database = testDatabase(4)
let standIns: Awaited<ReturnType<typeof runningStandIns>>
let gate: Awaited<ReturnType<typeof gateTo>>
let server: RunningServer

beforeAll(async () => {
  const orla = { email: 'orla.quill@ternandtally.example', name: 'Orla Quill' }
  await askAs(database, await ensurePerson(database, orla))
  standIns = await runningStandIns()
  gate = await gateTo(testUrl())
  server = await runningServer(gate.url)
})
afterAll(async () => {
  await server.kill()
  gate.shut()
  standIns.kill()
  await database.$client.end()
})

const weeks = makeWeeks(30, 40)
const marketClient = async (name: string): Promise<Actor> => {
  await standIns.put('/control/services/openhall', openhallWith(weeks))
  return makeClient(database, name, { address: `${standIns.url}/services/openhall/shops/kiln-lane` })
}
const press = (actor: Actor) =>
  askServer(server.api, endpoints.pull, { client: actor.clientId, params: { source: 'openhall' } })
const pulls = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { state: is.text, message: is.text, job_id: is.text },
      sql`SELECT state, message, job_id FROM job WHERE sort = 'pull' ORDER BY started_at`,
    ),
  )
const linesIn = async (actor: Actor): Promise<number> =>
  (
    await asClient(database, actor, tx =>
      rowsOf(tx, { count: is.whole }, sql`SELECT count(*)::int AS count FROM activity_line`),
    )
  )[0]?.count ?? 0
const statusOf = (path: string): Promise<number> =>
  fetch(`${server.api}/${path}`, { headers }).then(
    response => response.status,
    () => 0,
  )

it('waits while the database is away in the midst of a pull, says so, and goes on', async () => {
  const actor = await marketClient('Database stopped')
  await standIns.put('/control/faults', { slowMs: 250 })
  await server.start()
  await press(actor)
  await expect.poll(() => linesIn(actor), { timeout: 20_000, interval: 20 }).toBeGreaterThan(0)
  gate.shut()
  await expect.poll(() => statusOf('health'), { timeout: 20_000 }).toBe(503)
  expect(await statusOf('alive')).toBe(200)
  expect(await statusOf(`clients/${actor.clientId}/course`)).toBe(503)
  // Also of a browser: that nobody can look whether its session stands does not end it.
  const cookie = '__Host-culvert.session_token=of-some.session'
  expect((await fetch(`${server.api}/session`, { headers: { 'x-culvert': 'test', cookie } })).status).toBe(503)
  const sofar = await linesIn(actor)
  await new Promise(resolve => setTimeout(resolve, 2500))
  expect(server.lives()).toBe(true)
  expect(await linesIn(actor)).toBe(sofar)
  expect((await pulls(actor)).map(pull => pull.state)).toEqual(['running'])
  await gate.open()
  await expect.poll(() => statusOf('health'), { timeout: 20_000 }).toBe(200)
  await expect
    .poll(async () => (await pulls(actor)).map(pull => pull.state), { timeout: 50_000, interval: 200 })
    .toEqual(['done'])
  expect(await linesIn(actor)).toBe(weeks.lines.length)
  expect((await booksOf(database, actor)).states).toEqual({ proposed: 30 })
  await server.kill()
}, 120_000)

it('a pull whose job was given up says so, and is started again', async () => {
  const actor = await marketClient('Given up')
  await standIns.put('/control/faults', { slowMs: 400 })
  await server.start()
  await press(actor)
  await expect.poll(() => linesIn(actor), { timeout: 20_000, interval: 20 }).toBeGreaterThan(0)
  await server.kill()
  // As if it had been broken off as often as the queue tries: the job is over, the row still says that it runs.
  const admin = new pg.Client({
    connectionString: Object.assign(new URL(process.env.DATABASE_URL ?? ''), { pathname: new URL(testUrl()).pathname })
      .href,
  })
  await admin.connect()
  const given = await admin.query(
    "UPDATE pgboss.job SET state = 'failed', completed_on = now(), retry_count = retry_limit WHERE data->>'clientId' = $1 AND state < 'completed'",
    [String(actor.clientId)],
  )
  await admin.end()
  expect(given.rowCount).toBe(1)
  expect((await pulls(actor)).map(pull => pull.state)).toEqual(['running'])
  await server.start()
  await expect
    .poll(async () => (await pulls(actor)).map(pull => pull.state), { timeout: 30_000, interval: 200 })
    .toEqual(['failed'])
  expect((await pulls(actor))[0]?.message).toContain('start it again')
  await standIns.put('/control/faults', {})
  expect((await press(actor)).status).toBeLessThan(300)
  await expect
    .poll(async () => (await pulls(actor)).map(pull => pull.state), { timeout: 50_000, interval: 200 })
    .toEqual(['failed', 'done'])
  expect(await linesIn(actor)).toBe(weeks.lines.length)
  await server.kill()
}, 120_000)
