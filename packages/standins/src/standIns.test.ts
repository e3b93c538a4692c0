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
const shop = {
  ...{ name: 'Kiln Lane Ceramics', place: 'Galway', country: 'IE', currency: 'EUR' },
  ...{ lines, settlements: [{ settlement_id: 'W-1' }], keys: [credentials] },
}
const market = {
  ...{ name: 'Openhall', sort: 'marketplace', shops: { 'kiln-lane': shop, seconds: { ...shop, keys: [] } } },
  logins: [{ name: 'Orla', shops: ['kiln-lane'] }],
}
const kilnLane = '/services/openhall/shops/kiln-lane'
beforeEach(async () => {
  await put('/control/services/openhall', market)
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
  let token = await tokenOf(kilnLane, credentials)
  const ids: string[] = []
  const refused: number[] = []
  let after = '0'
  for (let tries = 0; tries < 200; tries++) {
    const response = await get(`${kilnLane}/activity?after=${after}&limit=${limit}`, token).catch(() => null)
    if (response === null) {
      refused.push(0)
      continue
    }
    if (response.status === 401) token = await tokenOf(kilnLane, credentials)
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
    expect((await get(`${kilnLane}/activity`, null)).status).toBe(401)
    expect(await tokenOf(kilnLane, { key: 'k', secret: 'wrong' })).toBeNull()
    expect(await tokenOf('/services/nowhere/shops/kiln-lane', credentials)).toBeNull()
    const token = await tokenOf(kilnLane, credentials)
    expect((await get(`${kilnLane}/activity?limit=0`, token)).status).toBe(400)
    expect(await (await get(`${kilnLane}/settlements`, token)).json()).toEqual({ rows: shop.settlements })
    // A token of one is none of another's.
    expect((await get('/services/openhall/shops/seconds/activity', token)).status).toBe(401)
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
    await fetch(`${url}/control/services/openhall/shops/kiln-lane/lines`, {
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

describe('a switchboard', () => {
  const form = (path: string, body: Readonly<Record<string, string>>, origin?: string) =>
    fetch(`${url}${path}`, {
      method: 'POST',
      redirect: 'manual',
      headers: origin === undefined ? {} : { origin },
      body: new URLSearchParams(body),
    })
  const told = async () =>
    (await (await get(`${kilnLane}/activity?limit=1000`, await tokenOf(kilnLane, credentials))).json()) as {
      lines: Readonly<Record<string, string>>[]
    }
  const sale = {
    ...{ line_id: 'S1', settlement_id: 'W-1', kind: 'sale', order_id: 'O1', amount: '40.00', currency: 'EUR' },
    ...{ occurred_at: '2026-03-01T10:00:00Z', category: 'Tableware' },
  }
  const fee = { ...sale, line_id: 'S2', kind: 'selling_fee', amount: '-5.00' }
  beforeEach(() =>
    put('/control/services/openhall', { ...market, shops: { 'kiln-lane': { ...shop, lines: [sale, fee] } } }),
  )

  it.each([
    ['refund', [['refund', '-40.00']]],
    [
      'chargeback',
      [
        ['chargeback', '-40.00'],
        ['chargeback_fee', '-15.00'],
      ],
    ],
    ['new_category', [['sale', '40.00']]],
    [
      'late_correction',
      [
        ['sale', '41.00'],
        ['selling_fee', '-6.00'],
      ],
    ],
  ])('sets off a %s', async (scene, expected) => {
    expect((await form('/scenes/openhall/kiln-lane', { scene })).status).toBe(303)
    const added = (await told()).lines.slice(2)
    expect(added.map(line => [line.kind, line.amount])).toEqual(expected)
    // A correction tells earlier lines again; all else is new, and of a settlement that is open.
    const again = added.every(line => ['S1', 'S2'].includes(line.line_id ?? ''))
    expect(again).toBe(scene === 'late_correction')
    expect(added.some(line => line.settlement_id === 'W-1')).toBe(scene === 'late_correction')
  })

  it('sets faults, and takes nothing that is none', async () => {
    expect((await form('/faults', { failEvery: '2', shuffle: 'yes' })).status).toBe(303)
    const token = await tokenOf(kilnLane, credentials).catch(() => null)
    const answers = [await get(`${kilnLane}/settlements`, token), await get(`${kilnLane}/settlements`, token)]
    expect(answers.map(one => one.status)).toContain(500)
    await form('/faults', { failEvery: '-1' })
    expect(await (await fetch(url)).text()).toContain('No fault was set')
  })

  it('does nothing for another site’s page, and shows names as they are', async () => {
    await put('/control/services/openhall', {
      ...market,
      shops: { 'kiln-lane': { ...shop, name: '<script>alert(1)</script>' } },
    })
    expect((await form('/faults', { failEvery: '1' }, 'http://elsewhere.example')).status).toBe(403)
    expect(await (await fetch(url)).text()).not.toContain('<script>')
    expect((await form('/scenes/openhall/nowhere', { scene: 'refund' })).status).toBe(404)
  })
})

it('sends nobody to an address that is not the program’s', async () => {
  const asked = {
    ...{ response_type: 'code', client_id: 'culvert-of-the-demo', state: 'a-state-of-some-length', scope: 'activity' },
    ...{ code_challenge: 'x'.repeat(43), code_challenge_method: 'S256' },
  }
  for (const redirect_uri of ['https://elsewhere.example/connected', 'http://127.0.0.1:4780/elsewhere']) {
    const query = new URLSearchParams({ ...asked, redirect_uri })
    expect((await fetch(`${url}/services/openhall/authorize?${query}`)).status).toBe(400)
    const posted = await fetch(`${url}/services/openhall/authorize`, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ ...asked, redirect_uri, login: 'Orla', decision: 'grant' }),
    })
    expect([posted.status, posted.headers.get('location')]).toEqual([400, null])
  }
})
