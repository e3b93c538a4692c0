import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { pino } from 'pino'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { createApp } from '../app.ts'
import { startJobs } from '../jobs/boss.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { makeClientWithWeeks, testDatabase, testUrl } from '../testing/madeClient.ts'
import { always } from './who.ts'

const database = testDatabase(8)
const logged: string[] = []
let server: Server
let base = ''
let client = 0
let jobs: Awaited<ReturnType<typeof startJobs>>

beforeAll(async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Asked badly', 2, 4)
  await postSettlements(database, actor, keys)
  client = actor.clientId
  jobs = await startJobs(testUrl(), database, () => undefined)
  const log = pino({ level: 'error' }, { write: (line: string) => void logged.push(line) })
  const app = createApp({ database, jobs, who: always(actor.userId), log })
  server = app.listen(0, '127.0.0.1')
  await new Promise(resolve => server.once('listening', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`
})
afterAll(async () => {
  await new Promise(resolve => server.close(resolve))
  await jobs.stop()
  await database.$client.end()
})

const key = { source: 'openhall', key: 'W-00001', currency: 'EUR' }
const route = { routeId: 1, kind: 'sale', account: '4000', taxCode: 'S23' }
const code = {
  code: 'X1',
  name: 'X',
  basis: 'inclusive',
  use: 'sales',
  reverseCharge: false,
  components: [
    { name: 'X', account: '2200', inputAccount: null, compound: false, rates: [{ from: '2026-01-01', percent: '23' }] },
  ],
}
/** A request to each address, as good as it can be without meaning anything. */
const requests: readonly (readonly [string, string, unknown?])[] = [
  ['GET', '/settlements?limit=10&offset=0&from=2026-01-01&to=2026-12-31&state=posted&source=openhall'],
  ['GET', '/settlements/openhall/W-00001/EUR'],
  ['GET', '/settlements/openhall/W-00001/EUR/lines?kind=sale&category=Tableware'],
  ['GET', '/mapping/openhall'],
  ['GET', '/mapping/openhall/starter'],
  ['GET', '/books/chart?to=2026-02-28'],
  ['GET', '/books/entries?from=2026-01-01&to=2026-02-28&offset=0&limit=5'],
  ['GET', '/books/entries/2026-1'],
  ['GET', '/books/register/1210?from=2026-01-01&to=2026-02-28&offset=0&limit=5'],
  ['GET', '/trace?at=order&order=1'],
  ['GET', '/trace?at=entry_line&entry=2026-1&line=1'],
  ['GET', '/trace?at=account&account=1210&to=2026-02-28'],
  ['GET', '/trace?at=line&source=openhall&lineId=W-00001-0s'],
  ['GET', '/clearing?to=2026-02-28'],
  ['GET', '/clearing/1210?date=2026-02-28'],
  ['GET', '/bank/1000?from=2026-01-01&to=2026-02-28'],
  ['GET', '/tax-check?month=2026-01'],
  ['GET', '/tax-check/lines?month=2026-01&currency=EUR&region=IE&class=x&since=2026-01-01'],
  ['GET', '/close/2026-01'],
  ['GET', '/find?q=120'],
  ['POST', '/settlements/post', { keys: [key] }],
  ['POST', '/settlements/take-back', { keys: [key] }],
  ['POST', '/settlements/set-aside', { keys: [key], reason: 'x' }],
  ['POST', '/settlements/take-up', { keys: [key] }],
  ['POST', '/settlements/no-double', { keys: [key], noDouble: true }],
  ['PUT', '/routes', { version: 1, changed: [route], removed: [7] }],
  [
    'PUT',
    '/rules',
    {
      version: 1,
      rules: [
        { id: 1, name: 'r', conditions: [{ field: 'kind', is: 'equal', value: 'sale' }], actions: [{ set: 'block' }] },
      ],
    },
  ],
  ['PUT', '/tax-codes', { version: 1, codes: [code] }],
  [
    'PUT',
    '/tax-grid',
    {
      version: 1,
      byRows: true,
      rows: [
        {
          id: 1,
          source: 's',
          kind: 'sale',
          label: 'l',
          region: 'DE',
          class: 'c',
          from: '2026-01-01',
          code: 'S23',
          reason: 'r',
        },
      ],
      classes: [{ sku: 'K', category: null, class: 'c' }],
    },
  ],
  ['POST', '/tax-filings', { agency: 'A', from: '2019-01-01', to: '2019-01-31', filedOn: '2019-02-20' }],
  ['POST', '/tax-filings/1/withdraw', { reason: 'r' }],
  [
    'POST',
    '/disputes/decide',
    {
      source: 'openhall',
      lineId: 'W-00001-0s',
      date: '2026-01-20',
      note: 'n',
      decision: { as: 'written_off', account: '6000' },
    },
  ],
  ['POST', '/disputes/undo', { source: 'openhall', lineId: 'W-00001-0s' }],
  ['PUT', '/items', { version: 1, items: [{ code: 'I', name: 'I', account: '4000', taxCode: null }] }],
  ['PUT', '/tie-out/labels', { version: 1, labels: [{ label: 'Card', source: 'openhall' }] }],
  ['PUT', '/rates', { rates: [{ date: '2026-01-01', from: 'USD', to: 'EUR', rate: '0.9' }] }],
  ['POST', '/accounts', [{ code: '9000', name: 'N', type: 'income', currency: 'EUR' }]],
  ['PUT', '/clearing/1210/stated', { currency: 'EUR', date: '2026-01-31', amount: 0 }],
  ['POST', '/bank/undo', { pairings: ['1'] }],
  ['POST', '/bank/1000/code', { bankLine: 'X', account: '6000', taxCode: 'S23', memo: 'm' }],
  ['PUT', '/close/lock', { month: '2020-01', locked: true, reason: 'x' }],
  ['GET', '/sources/openhall/options/basis?basis=order&cutOff=04:30&timeZone=Europe/Paris'],
  ['GET', '/sources/openhall/aside'],
  ['GET', '/bank/1000/proof?date=2026-02-28'],
  ['GET', '/books/accounts/4000'],
  [
    'PUT',
    '/contacts',
    { contacts: [{ code: 'C', name: 'C', sort: 'both', email: null, taxNumber: 'T', country: 'IE' }] },
  ],
  [
    'PUT',
    '/open-items',
    {
      items: [
        {
          ...{ sort: 'invoice', contact: 'C', number: '1', date: '2025-12-01', due: null, currency: 'EUR' },
          ...{ amount: 100, open: 100 },
        },
      ],
      gone: [{ sort: 'bill', contact: 'C', number: '9' }],
      contacts: [],
    },
  ],
  [
    'POST',
    '/missing/names',
    {
      version: 1,
      contacts: [{ key: 'source openhall', use: null, make: { code: 'O', name: 'O' } }],
      items: [{ sku: 'A', name: 'A', account: '4000' }],
    },
  ],
  [
    'PUT',
    '/sources/openhall/settings',
    {
      version: 1,
      source: {
        ...{ name: 'Openhall', service: 'marketplace', bankTexts: ['OPENHALL'], contact: 'C' },
        clearing: [{ currency: 'EUR', account: '1210' }],
        banks: [{ direction: 'into', currency: 'EUR', region: '', account: '1000' }],
      },
    },
  ],
  [
    'PUT',
    '/files/columns',
    {
      ...{ subject: 'source', key: 'openhall', header: ['Day'] },
      said: {
        ...{ of: 'balances', encoding: null, sheet: null },
        choice: {
          ...{ columns: [{ name: 'Day', meaning: 'at' }], currency: null, dates: 'ymd' },
          numbers: { decimal: '.', thousands: '' },
        },
      },
    },
  ],
]

/** What has made servers stumble: signs that cannot be stored, dates that do not exist, numbers beyond every column. */
const bad: readonly unknown[] = [
  'a\u0000b',
  '\ud800',
  '2026-02-30',
  '0000-01',
  '0000-00-00',
  '2026-13',
  '275760-09-13',
  2 ** 31,
  -1,
  2 ** 53,
  1e300,
  0.5,
  '',
  'x'.repeat(20_000),
  null,
  [],
  {},
  "'; DROP TABLE entry; --",
  '%_\\',
  '999999999999999999999',
  'NaN',
]

/** The value with one of its leaves replaced, for each leaf. */
const withOne = (value: unknown, by: unknown): unknown[] => {
  if (Array.isArray(value))
    return value.flatMap((one, at) =>
      withOne(one, by).map(changed => value.map((same, index) => (index === at ? changed : same))),
    )
  if (value !== null && typeof value === 'object')
    return Object.entries(value).flatMap(([name, one]) =>
      withOne(one, by).map(changed => ({ ...value, [name]: changed })),
    )
  return [by]
}
const places = (path: string, by: unknown): string[] => {
  const text = encodeURIComponent(by === '\ud800' ? '\ufffd' : String(by)).slice(0, 6000)
  const [address = '', query = ''] = path.split('?')
  const parts = address.split('/')
  const inPath = parts.flatMap((_, at) =>
    at < 2 ? [] : [[...parts.slice(0, at), text, ...parts.slice(at + 1)].join('/')],
  )
  const inQuery = query.split('&').flatMap((one, at, all) => {
    if (one === '') return []
    const [name] = one.split('=')
    return [`${address}?${[...all.slice(0, at), `${name}=${text}`, ...all.slice(at + 1)].join('&')}`]
  })
  return [...inPath.map(made => (query ? `${made}?${query}` : made)), ...inQuery]
}

const ask = (method: string, path: string, body?: unknown) =>
  fetch(`${base}/clients/${client}${path}`, {
    method,
    headers: { 'x-culvert': 'test', ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  })

it('the requests that are spoilt below are understood as they are', async () => {
  const misread: string[] = []
  for (const [method, path, body] of requests) {
    const answer = await ask(method, path, body)
    const text = await answer.text()
    if (answer.status === 400 || (answer.status === 404 && text.includes('no such address')))
      misread.push(`${answer.status} ${method} ${path} ${text}`)
  }
  expect(misread).toEqual([])
})

it('a bad request is the asker’s fault, and says so', async () => {
  const broken: string[] = []
  let asked = 0
  const tried = async (method: string, path: string, body?: unknown): Promise<void> => {
    asked++
    const answer = await ask(method, path, body)
    const text = await answer.text()
    if (answer.status >= 500)
      broken.push(`${answer.status} ${method} ${path.slice(0, 200)} ${JSON.stringify(body ?? '').slice(0, 300)}`)
    expect(answer.headers.get('cache-control'), path).toBe('no-store')
    expect(text, path).not.toMatch(/node_modules|SELECT |at file:/)
  }
  for (const [method, path, body] of requests)
    for (const by of bad) {
      const all = [
        ...places(path, by).map(changed => [changed, body] as const),
        ...(body === undefined ? [] : withOne(body, by).map(changed => [path, changed] as const)),
      ]
      for (let at = 0; at < all.length; at += 8)
        await Promise.all(all.slice(at, at + 8).map(([changed, made]) => tried(method, changed, made)))
    }
  console.log(`${asked} bad requests`)
  expect(broken).toEqual([])
  expect(logged.filter(line => line.includes('"level":50'))).toEqual([])
  expect(asked).toBeGreaterThan(2500)
}, 240_000)

it('says that it lives, and apart from that whether it reaches the database', async () => {
  for (const path of ['alive', 'health']) {
    const answer = await fetch(`${base}/${path}`)
    expect([answer.status, answer.headers.get('cache-control')]).toEqual([200, 'no-store'])
  }
})
