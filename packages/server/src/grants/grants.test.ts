import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Webhook } from 'standardwebhooks'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { ensurePerson } from '../access/practice.ts'
import type { Who } from '../access/who.ts'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { pullSource } from '../sources/pullSource.ts'
import { type Decision, decideAt } from '../testing/consentPage.ts'
import { makeClient, makeWeeks, testDatabase } from '../testing/madeClient.ts'
import { openhallWith, runningStandIns } from '../testing/runningServer.ts'
import { makeBrowser, type SignInServer, signInServer } from '../testing/signedIn.ts'
import { type Service, setServices } from './services.ts'
import { tokenSource } from './tokenSource.ts'

const database = testDatabase(16)
let standIns: Awaited<ReturnType<typeof runningStandIns>>
let server: SignInServer
let service: Service
let actor: Actor
let ben = 0

const asTold: Who = request => {
  const userId = Number(request.headers['x-person'] ?? 0)
  return Promise.resolve(userId > 0 ? { userId, session: null, narrowed: null } : null)
}
const weeks = makeWeeks(3, 5)
const practice = 'Orla Quill of Tern & Tally'
const owner = 'Ciara of Kiln Lane'

beforeAll(async () => {
  standIns = await runningStandIns()
  server = await signInServer(database, asTold, 'http://127.0.0.1:4780')
})
afterAll(async () => {
  setServices(null)
  await server.stop()
  standIns.kill()
  await database.$client.end()
})

let made = 0
/** A client of its own, and a marketplace of its own with three shops. */
beforeEach(async () => {
  actor = await makeClient(database, `Granted ${++made}`)
  ben = await ensurePerson(database, { email: 'grants.ben@ternandtally.example', name: 'Ben', role: 'bookkeeper' })
  await asClient(database, actor, tx =>
    tx.execute(
      sql`INSERT INTO membership (client_id, user_id, role) VALUES (${actor.clientId}, ${ben}, 'bookkeeper') ON CONFLICT DO NOTHING`,
    ),
  )
  const key = `openhall-${made}`
  const market = openhallWith(weeks)
  const shop = market.shops['kiln-lane']
  await standIns.put(`/control/services/${key}`, {
    ...market,
    shops: {
      ...market.shops,
      seconds: { ...shop, name: 'Kiln Lane Seconds', lines: shop.lines.slice(0, 2) },
      larkwool: { ...shop, name: 'Larkwool Yarns', country: 'US', currency: 'USD', lines: [] },
    },
    logins: [
      { name: practice, shops: ['larkwool', 'seconds', 'kiln-lane'] },
      { name: owner, shops: ['kiln-lane'] },
      { name: 'Somebody else', shops: ['seconds'] },
    ],
  })
  await standIns.put('/control/faults', {})
  const all = (await (await fetch(`${standIns.url}/services.json`)).json()) as Service[]
  setServices(all)
  service = all.find(one => one.key === key) as Service
})

const as = (userId: number) => ({ 'x-person': String(userId) })
const ask = (...[endpoint, asking]: Parameters<ReturnType<typeof makeBrowser>['ask']>) =>
  makeBrowser(server.base).ask(endpoint, {
    client: actor.clientId,
    ...asking,
    headers: { ...as(actor.userId), ...asking?.headers },
  })

/** Goes to a consent page and decides there; what the browser comes back with. */
const consent = (address: string, how: Partial<Decision> = {}) =>
  decideAt(address, server.base, { login: practice, ...how })

const begin = async (more: object = {}) => {
  const { status, said } = await ask(endpoints.askGrant, { body: { service: service.key, ...more } })
  expect(status).toBe(201)
  return said as { grantId: string; address: string }
}
const grantIt = async (how: Parameters<typeof consent>[1] = {}, more: object = {}) => {
  const { grantId, address } = await begin(more)
  const done = await ask(endpoints.completeGrant, { body: await consent(address, how) })
  return { grantId, done }
}
const shopsOf = async (grantId: string) =>
  endpoints.shops.answer.parse((await ask(endpoints.shops, { params: { grant: grantId } })).said)
const use = (grantId: string, shop = 'kiln-lane', more: object = {}) =>
  ask(endpoints.connectShop, {
    params: { grant: grantId },
    body: {
      ...{ source: 'market', name: 'Openhall', shape: 'combined', shop },
      ...{ clearing: [{ currency: 'EUR', account: '1210' }], banks: [] },
      ...more,
    },
  })
const pulled = async (source = 'market') => {
  const started = await ask(endpoints.pull, { params: { source } })
  if (started.status === 202) await pullSource(database, { ...actor, jobId: String(started.said.job) })
  const lines = await asClient(database, actor, tx =>
    oneRow(tx, { lines: is.whole }, sql`SELECT count(*)::int AS lines FROM activity_line WHERE source = ${source}`),
  )
  const job = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { state: is.text, message: is.text },
      sql`SELECT state, message FROM job WHERE subject = ${source} ORDER BY ordinal DESC LIMIT 1`,
    ),
  )
  return { ...lines, ...started, job: job[0] }
}
const grantsNow = async () => endpoints.grants.answer.parse((await ask(endpoints.grants)).said).grants
const switchboard = (grant: string, act: 'withdraw' | 'run_out') =>
  fetch(`${standIns.url}/grants/${grant}`, { method: 'POST', redirect: 'manual', body: new URLSearchParams({ act }) })
/** Grants as the switchboard names them, of the marketplace of this test. */
const letIn = async (): Promise<string[]> => {
  const page = await (await fetch(standIns.url)).text()
  const [, mine = ''] =
    page.split(`/scenes/${service.key}/`).length > 1 ? [null, page.slice(page.indexOf(`/scenes/${service.key}/`))] : []
  return [...(mine.split('</article>')[0] ?? '').matchAll(/action="\/grants\/([^"]+)"/g)].map(([, id = '']) => id)
}

describe('a service that is connected', () => {
  it('is asked, granted, its shop is chosen, and its activity comes', async () => {
    const { grantId, done } = await grantIt()
    expect(done.said).toMatchObject({ outcome: 'granted', name: 'Openhall', reconnected: null })
    const { grant, shops } = await shopsOf(grantId)
    expect(grant).toMatchObject({
      login: practice,
      scopes: ['activity', 'settlements', 'balances', 'buyers'],
      lacking: [],
    })
    expect(Date.parse(grant.until ?? '') - Date.now()).toBeGreaterThan(364 * 24 * 3600 * 1000)
    expect(shops.map(shop => shop.name)).toEqual(['Kiln Lane Ceramics', 'Kiln Lane Seconds', 'Larkwool Yarns'])
    expect(shops.at(-1)?.fit).toContain('other_currency')
    const used = await use(grantId)
    expect(used.status).toBe(201)
    await pullSource(database, { ...actor, jobId: String(used.said.pull) })
    expect((await pulled()).lines).toBe(weeks.lines.length)
    const [row] = endpoints.sources.answer
      .parse((await ask(endpoints.sources)).said)
      .sources.filter(one => one.source === 'market')
    expect(row).toMatchObject({ connected: true, grant: { service: 'Openhall', ended: null } })
    // Nothing that opens anything stands in the database as it is.
    const kept = await asClient(database, actor, tx =>
      oneRow(
        tx,
        { text: is.text },
        sql`SELECT (tokens::text || coalesce(verifier::text, '')) AS text FROM service_grant WHERE grant_id = ${grantId}`,
      ),
    )
    expect(kept.text).toContain('"tag"')
    expect(kept.text).not.toMatch(/refresh|access/)
  })

  it('says plainly what was refused, and keeps nothing', async () => {
    const { grantId, done } = await grantIt({ decision: 'refuse' })
    expect(done.said).toMatchObject({ outcome: 'refused' })
    expect((await ask(endpoints.shops, { params: { grant: grantId } })).said.code).toBe('grant_ended')
    expect((await grantsNow())[0]).toMatchObject({ ended: 'refused', login: null })
  })

  it('takes an answer once, of whoever was sent, and of no other', async () => {
    const { address } = await begin()
    const back = await consent(address)
    const stranger = await ask(endpoints.completeGrant, { body: back, headers: as(ben) })
    expect(stranger.said.code).toBe('grant_spent')
    const forged = await ask(endpoints.completeGrant, { body: { ...back, state: `${back.state}x` } })
    expect(forged.said.code).toBe('grant_spent')
    expect((await ask(endpoints.completeGrant, { body: back })).status).toBe(200)
    expect((await ask(endpoints.completeGrant, { body: back })).said.code).toBe('grant_spent')
    // Another client's page does not take it either.
    const second = await begin()
    const other = await makeClient(database, 'Not asked')
    const there = await ask(endpoints.completeGrant, { client: other.clientId, body: await consent(second.address) })
    expect(there.said.code).toBe('grant_spent')
  })

  it('is not connected with a code that somebody made up', async () => {
    const { address } = await begin()
    const back = await consent(address)
    const done = await ask(endpoints.completeGrant, { body: { ...back, code: 'made-up' } })
    expect(done.said).toMatchObject({ outcome: 'refused' })
  })

  it('tells no buyers where that was not granted', async () => {
    const { grantId } = await grantIt({ buyers: false })
    expect((await shopsOf(grantId)).grant.lacking).toEqual(['buyers'])
  })
})

describe('a shop', () => {
  it('serves one client, and says which', async () => {
    const first = await grantIt()
    expect((await use(first.grantId)).status).toBe(201)
    const name = `Granted ${made}`
    const elsewhere = await makeClient(database, 'The other one')
    const mine = actor
    actor = elsewhere
    const { grantId } = await grantIt()
    const { shops } = await shopsOf(grantId)
    expect(shops.find(shop => shop.id === 'kiln-lane')?.serves).toEqual({ client: name, own: false, source: null })
    const taken = await use(grantId)
    expect(taken).toMatchObject({ status: 409, said: { code: 'shop_taken' } })
    expect(taken.said.error).toContain(name)
    // Somebody who is not of that client learns that it is taken, and not by whom.
    await asClient(database, elsewhere, tx =>
      tx.execute(
        sql`INSERT INTO membership (client_id, user_id, role) VALUES (${elsewhere.clientId}, ${ben}, 'bookkeeper')`,
      ),
    )
    await asClient(database, mine, tx =>
      tx.execute(sql`DELETE FROM membership WHERE client_id = ${mine.clientId} AND user_id = ${ben}`),
    )
    const asBen = await ask(endpoints.shops, { params: { grant: grantId }, headers: as(ben) })
    expect(JSON.stringify(asBen.said)).not.toContain(name)
    // Another of the same login is free; disconnected there, the first is too.
    expect((await use(grantId, 'seconds')).status).toBe(201)
    actor = mine
    expect((await ask(endpoints.disconnect, { params: { source: 'market' } })).said).toEqual({ told: true })
    actor = elsewhere
    expect((await use(grantId, 'kiln-lane', { source: 'market2' })).status).toBe(201)
  })

  it('goes to one of two clients that take it at once', async () => {
    const other = await makeClient(database, 'At once')
    const mine = actor
    const grants = [(await grantIt()).grantId]
    actor = other
    grants.push((await grantIt()).grantId)
    const used = await Promise.all(
      [mine, other].map((one, index) =>
        ask(endpoints.connectShop, {
          client: one.clientId,
          params: { grant: grants[index] ?? '' },
          body: { source: 'market', name: 'Openhall', shape: 'combined', shop: 'kiln-lane', clearing: [], banks: [] },
        }),
      ),
    )
    expect(used.map(one => one.status).sort()).toEqual([201, 409])
  })

  it('is not taken by a login that does not hold it', async () => {
    const { grantId } = await grantIt({ login: 'Somebody else' })
    expect((await use(grantId)).said.code).toBe('shop_not_there')
  })
})

describe('what was granted', () => {
  it.each([['withdraw'], ['run_out']] as const)('ends (%s), says so, and is granted again in its place', async act => {
    const { grantId } = await grantIt()
    await use(grantId)
    await switchboard((await letIn())[0] ?? '', act)
    const failed = await pulled()
    expect(failed.job).toMatchObject({ state: 'failed' })
    expect(failed.job?.message).toContain('it was withdrawn there, or ran out')
    expect((await grantsNow())[0]?.ended).toBe('withdrawn')
    expect((await pulled()).said.code).toBe('grant_ended')
    // Whoever does not hold the shop does not take its place.
    const wrong = await grantIt({ login: 'Somebody else' }, { forSource: 'market' })
    expect(wrong.done.said.code).toBe('shop_not_there')
    // What the service had granted for nothing is given back.
    expect(await letIn()).toHaveLength(act === 'withdraw' ? 0 : 1)
    const again = await grantIt({ login: owner }, { forSource: 'market' })
    expect(again.done.said).toMatchObject({ outcome: 'granted', reconnected: 'market' })
    expect((await pulled()).lines).toBe(weeks.lines.length)
  })

  it('is given back where another takes its place while it stands', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    const before = await letIn()
    await grantIt({ login: owner }, { forSource: 'market' })
    const after = await letIn()
    expect(after).toHaveLength(1)
    expect(after).not.toEqual(before)
    expect((await pulled()).job?.state).toBe('done')
  })

  it('is renewed by one at a time, however many pull by it', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    const token = tokenSource(database, actor, grantId)
    const first = await token(null)
    const all = await Promise.all(Array.from({ length: 6 }, () => token(first)))
    expect(new Set(all).size).toBe(1)
    expect(all[0]).not.toBe(first)
    expect((await grantsNow())[0]?.ended).toBeNull()
  })

  it('comes whole although the service misbehaves, tokens included', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    await standIns.put('/control/faults', {
      failEvery: 3,
      cutOffEvery: 5,
      expireTokenEvery: 2,
      repeatPageEvery: 2,
      shuffle: true,
    })
    const { lines, job } = await pulled()
    expect([lines, job?.state]).toEqual([weeks.lines.length, 'done'])
  })

  it('is not asked for ever by a service without an end', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    await standIns.put('/control/faults', { endless: true })
    const { lines, job } = await pulled()
    expect([lines, job?.state]).toEqual([weeks.lines.length, 'failed'])
    expect(job?.message).toContain('nothing new')
  })

  it('tells what would end before it is disconnected; what it brought stays, and the service is told', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    await pulled()
    const before = endpoints.connection.answer.parse(
      (await ask(endpoints.connection, { params: { source: 'market' } })).said,
    )
    expect(before).toMatchObject({ lines: weeks.lines.length, posted: 0, alsoServes: [], grant: { login: practice } })
    expect((await ask(endpoints.endGrant, { params: { grant: grantId } })).said.code).toBe('grant_serves')
    expect((await ask(endpoints.disconnect, { params: { source: 'market' } })).said).toEqual({ told: true })
    expect(await letIn()).toEqual([])
    expect((await ask(endpoints.disconnect, { params: { source: 'market' } })).said.code).toBe('not_connected')
    expect((await pulled()).said.code).toBe('not_connected')
    expect((await pulled()).lines).toBe(weeks.lines.length)
  })

  it('ends here although the service is gone, and says that it was not told', async () => {
    const { grantId } = await grantIt()
    setServices([])
    expect((await ask(endpoints.endGrant, { params: { grant: grantId } })).said).toEqual({ told: false })
    expect((await grantsNow())[0]?.ended).toBe('disconnected')
  })
})

describe('the client’s own people', () => {
  const askThem = async () => {
    const { said, status } = await ask(endpoints.askOwner, {
      body: { service: service.key, email: 'ciara@kilnlane.example' },
    })
    expect(status).toBe(201)
    return { grantId: String(said.grantId), token: String(said.link).split('#')[1] ?? '', mailed: said.mailed }
  }

  it('grant it by a link, in the browser in which they began, once', async () => {
    const { grantId, token, mailed } = await askThem()
    expect(mailed).toBe(true)
    expect(server.letters.at(-1)?.text).toContain(token)
    const ciara = makeBrowser(server.base)
    const looked = await ciara.ask(endpoints.lookAtGrant, { body: { token } })
    expect(looked.said).toMatchObject({ name: 'Openhall', practice: expect.any(String), state: 'asked' })
    const begun = await ciara.ask(endpoints.beginGranting, { body: { token } })
    expect(begun.status).toBe(200)
    const elsewhere = makeBrowser(server.base)
    expect((await elsewhere.ask(endpoints.beginGranting, { body: { token } })).said.code).toBe('question_elsewhere')
    const back = await consent(String(begun.said.address), { login: owner })
    expect((await elsewhere.ask(endpoints.completeByLink, { body: back })).said.code).toBe('grant_spent')
    const done = await ciara.ask(endpoints.completeByLink, { body: back })
    expect(done.said).toMatchObject({ outcome: 'granted', client: `Granted ${made}` })
    expect((await ciara.ask(endpoints.completeByLink, { body: back })).said.code).toBe('grant_spent')
    expect((await ciara.ask(endpoints.lookAtGrant, { body: { token } })).said).toMatchObject({ state: 'granted' })
    expect((await ciara.ask(endpoints.beginGranting, { body: { token } })).said.code).toBe('link_spent')
    const [row] = await grantsNow()
    expect(row).toMatchObject({ grantId, byOwner: true, login: owner, sentTo: 'ciara@kilnlane.example' })
    expect((await use(grantId)).status).toBe(201)
    expect((await pulled()).lines).toBe(weeks.lines.length)
  })

  it('connect a source again by it, where they hold its shop', async () => {
    const first = await grantIt()
    await use(first.grantId)
    const byThem = async (login: string) => {
      const { said } = await ask(endpoints.askOwner, { body: { service: service.key, forSource: 'market' } })
      const ciara = makeBrowser(server.base)
      const begun = await ciara.ask(endpoints.beginGranting, { body: { token: String(said.link).split('#')[1] } })
      return ciara.ask(endpoints.completeByLink, { body: await consent(String(begun.said.address), { login }) })
    }
    expect((await byThem('Somebody else')).said.code).toBe('shop_not_there')
    expect((await grantsNow()).find(one => one.sources.includes('market'))?.grantId).toBe(first.grantId)
    expect((await byThem(owner)).said).toMatchObject({ outcome: 'granted', reconnected: 'market' })
    const [standing] = (await grantsNow()).filter(one => one.sources.includes('market'))
    expect(standing).toMatchObject({ byOwner: true, login: owner })
    expect((await grantsNow()).find(one => one.grantId === first.grantId)?.ended).toBe('replaced')
    expect(await letIn()).toHaveLength(1)
    expect((await pulled()).job?.state).toBe('done')
  })

  it('refuse it, and the bookkeeper sees so', async () => {
    const { token } = await askThem()
    const ciara = makeBrowser(server.base)
    const begun = await ciara.ask(endpoints.beginGranting, { body: { token } })
    await ciara.ask(endpoints.completeByLink, {
      body: await consent(String(begun.said.address), { decision: 'refuse' }),
    })
    expect((await grantsNow())[0]).toMatchObject({ ended: 'refused', byOwner: true })
    expect((await ciara.ask(endpoints.lookAtGrant, { body: { token } })).said).toMatchObject({ state: 'refused' })
  })

  it('cannot use a link that was withdrawn, or is too old', async () => {
    const { grantId, token } = await askThem()
    expect((await ask(endpoints.endGrant, { params: { grant: grantId } })).status).toBe(200)
    const ciara = makeBrowser(server.base)
    expect((await ciara.ask(endpoints.beginGranting, { body: { token } })).said.code).toBe('link_spent')
    const old = await askThem()
    await asClient(database, actor, tx =>
      tx.execute(
        sql`UPDATE service_grant SET asked_until = now() - interval '1 second' WHERE grant_id = ${old.grantId}`,
      ),
    )
    expect((await ciara.ask(endpoints.beginGranting, { body: { token: old.token } })).said.code).toBe('link_spent')
  })
})

describe('news of a service', () => {
  const secret = 'whsec_bWFkZS11cC1mb3ItdGhlLWRlbW8tb25seQ=='
  const tell = (body: string, { at = new Date(), sign = secret }: { at?: Date; sign?: string } = {}) =>
    fetch(`${server.base}/hooks/${service.key}`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'webhook-id': 'news-1',
        'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
        'webhook-signature': new Webhook(sign).sign('news-1', at, body),
      },
      body,
    })
  const news = (shop: string) => JSON.stringify({ type: 'activity.added', timestamp: '', data: { shop } })
  const jobs = () =>
    asClient(database, actor, tx => rowsOf(tx, { state: is.text }, sql`SELECT state FROM job WHERE subject = 'market'`))

  it('have the source pulled that they are about, once, and nothing else', async () => {
    const { grantId } = await grantIt()
    const used = await use(grantId)
    await pullSource(database, { ...actor, jobId: String(used.said.pull) })
    expect((await tell(news('seconds'))).status).toBe(202)
    expect(await jobs()).toHaveLength(1)
    expect((await tell(news('kiln-lane'))).status).toBe(202)
    expect((await tell(news('kiln-lane'))).status).toBe(202)
    expect(await jobs()).toHaveLength(2)
  })

  it('of an archived client are taken and begin nothing', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    const before = (await jobs()).length
    await asClient(database, actor, tx => tx.execute(sql`UPDATE job SET state = 'done', ended_at = now()`))
    await asClient(database, actor, tx =>
      tx.execute(sql`UPDATE client SET archived_at = now() WHERE client_id = current_client()`),
    )
    expect((await tell(news('kiln-lane'))).status).toBe(202)
    expect(await jobs()).toHaveLength(before)
  })

  it('are nothing unless they are signed, by the service, lately', async () => {
    const { grantId } = await grantIt()
    await use(grantId)
    const body = news('kiln-lane')
    expect((await tell(body, { sign: 'whsec_c29tZWJvZHkgZWxzZQ==' })).status).toBe(401)
    expect((await tell(body, { at: new Date(Date.now() - 10 * 60_000) })).status).toBe(401)
    expect((await tell('no JSON')).status).toBe(401)
    const bare = await fetch(`${server.base}/hooks/${service.key}`, { method: 'POST', body })
    expect(bare.status).toBe(401)
    expect((await fetch(`${server.base}/hooks/nobody`, { method: 'POST', body })).status).toBe(404)
    expect(await jobs()).toHaveLength(1)
  })
})
