import { mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs'
import { request as ask, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { createStandIns } from './app.ts'
import { noFaults } from './faults.ts'

const folder = mkdtempSync(join(tmpdir(), 'standins-'))
let server: Server
let url: string
const start = (): Promise<void> =>
  new Promise(resolve => {
    server = createStandIns(folder).listen(0, '127.0.0.1', () => {
      url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
      resolve()
    })
  })
beforeAll(start)
afterAll(() => {
  server.close()
  rmSync(folder, { recursive: true })
})

const json = { 'content-type': 'application/json' }
const put = (path: string, body: unknown) =>
  fetch(`${url}${path}`, { method: 'PUT', headers: json, body: JSON.stringify(body) })
const tokenOf = async (path: string, credentials: { key: string; secret: string }): Promise<string | null> => {
  const answer = await fetch(`${url}${path}/token`, {
    method: 'POST',
    headers: json,
    body: JSON.stringify(credentials),
  })
    .then(response => response.json() as Promise<{ token?: string }>)
    .catch(() => null)
  return answer?.token ?? null
}
const get = (path: string, token: string | null) =>
  fetch(`${url}${path}`, { headers: token === null ? {} : { authorization: `Bearer ${token}` } })

const lines = Array.from({ length: 25 }, (_, index) => ({ line_id: `L${index}`, amount: '1.00' }))
const credentials = { key: 'k', secret: 's' }
const market = { ...credentials, lines, settlements: [{ settlement_id: 'W-1' }], balances: [] }
beforeEach(async () => {
  await put('/control/marketplaces/openhall', market)
  await put('/control/banks/skerrymoor', {
    accounts: {
      IE1: Array.from({ length: 150 }, (_, day) => ({
        line_id: `B${day}`,
        date: day < 100 ? '2026-01-02' : '2026-02-02',
      })),
      IE2: [],
    },
    grants: [{ ...credentials, accounts: ['IE1'] }],
  })
  await put('/control/faults', noFaults)
})

interface Activity {
  readonly lines: { line_id: string }[]
  readonly next: string | null
}
/** Pages through all activity, as often as a page is refused once more. @returns ids in the order they came */
const readAll = async (limit: number): Promise<{ ids: string[]; refused: number[] }> => {
  let token = await tokenOf('/marketplaces/openhall', credentials)
  const ids: string[] = []
  const refused: number[] = []
  let after = '0'
  for (let tries = 0; tries < 200; tries++) {
    const response = await get(`/marketplaces/openhall/activity?after=${after}&limit=${limit}`, token).catch(() => null)
    if (response === null) {
      refused.push(0)
      continue
    }
    if (response.status === 401) token = await tokenOf('/marketplaces/openhall', credentials)
    if (!response.ok) {
      refused.push(response.status)
      continue
    }
    const page = (await response.json().catch(() => null)) as Activity | null
    if (page === null) {
      refused.push(0)
      continue
    }
    ids.push(...page.lines.map(line => line.line_id))
    if (page.next === null) return { ids, refused }
    after = page.next
  }
  throw new Error('no end')
}

describe('a marketplace', () => {
  it('hands out its activity in pages, in order, to whoever holds a token', async () => {
    expect(await readAll(10)).toEqual({ ids: lines.map(line => line.line_id), refused: [] })
    expect((await get('/marketplaces/openhall/activity', null)).status).toBe(401)
    expect(await tokenOf('/marketplaces/openhall', { key: 'k', secret: 'wrong' })).toBeNull()
    expect(await tokenOf('/marketplaces/nowhere', credentials)).toBeNull()
    const token = await tokenOf('/marketplaces/openhall', credentials)
    expect((await get('/marketplaces/openhall/activity?limit=0', token)).status).toBe(400)
    expect(await (await get('/marketplaces/openhall/settlements', token)).json()).toEqual({ rows: market.settlements })
    // A token of one is none of another's.
    await put('/control/marketplaces/fernstall', market)
    expect((await get('/marketplaces/fernstall/activity', token)).status).toBe(401)
  })

  it.each([
    ['asks to wait', { tooManyEvery: 3 }, 429],
    ['fails', { failEvery: 3 }, 500],
    ['cuts an answer off', { cutOffEvery: 4 }, 0],
    ['lets tokens run out', { expireTokenEvery: 2 }, 401],
  ])('%s, and still tells everything once', async (_, faults, status) => {
    await put('/control/faults', faults)
    const { ids, refused } = await readAll(5)
    expect(ids).toEqual(lines.map(line => line.line_id))
    expect(refused).toContain(status)
  })

  it('repeats pages and shuffles them, the same way each time', async () => {
    await put('/control/faults', { repeatPageEvery: 3, shuffle: true })
    const { ids } = await readAll(5)
    expect(new Set(ids)).toEqual(new Set(lines.map(line => line.line_id)))
    expect(ids.length).toBeGreaterThan(lines.length)
    expect(ids).not.toEqual([...ids].sort())
  })

  it('tells of what is added later', async () => {
    await fetch(`${url}/control/marketplaces/openhall/lines`, {
      method: 'POST',
      headers: json,
      body: JSON.stringify({ lines: [{ line_id: 'LATE' }] }),
    })
    expect((await readAll(50)).ids.at(-1)).toBe('LATE')
  })
})

describe('a bank', () => {
  it('hands out an account’s lines to its grant alone, from a date on', async () => {
    const token = await tokenOf('/banks/skerrymoor', credentials)
    const page = async (query: string) =>
      (await (await get(`/banks/skerrymoor/accounts/IE1/lines${query}`, token)).json()) as Activity
    expect((await page('')).lines).toHaveLength(100)
    expect(await page('?after=100')).toMatchObject({ next: null })
    expect((await page('?from=2026-02-01')).lines).toHaveLength(50)
    expect((await get('/banks/skerrymoor/accounts/IE2/lines', token)).status).toBe(404)
    expect((await get('/banks/skerrymoor/accounts/IE1/lines', 'made-up')).status).toBe(401)
  })
})

it('serves no address but the loopback one, and keeps keys for its owner’s eyes', async () => {
  const status = await new Promise<number | undefined>(resolve =>
    ask(`${url}/health`, { headers: { host: 'elsewhere.example' } }, response => resolve(response.statusCode)).end(),
  )
  expect(status).toBe(403)
  for (const name of readdirSync(folder)) expect(statSync(join(folder, name)).mode & 0o077, name).toBe(0)
})

it('knows after a restart what it was told before', async () => {
  await new Promise(resolve => server.close(resolve))
  await start()
  expect((await readAll(50)).ids).toHaveLength(25)
})
