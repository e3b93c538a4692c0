import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, it } from 'vitest'
import type { Who } from '../access/who.ts'
import { pullBank } from '../bank/pullBank.ts'
import { takeChart } from '../books/chartFile.ts'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { beginJob } from '../jobs/jobLog.ts'
import { decideAt } from '../testing/consentPage.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { runningStandIns } from '../testing/runningServer.ts'
import { makeBrowser, type SignInServer, signInServer } from '../testing/signedIn.ts'
import { type Service, setServices } from './services.ts'

// What is connected and is no source: a bank's accounts, and an outside ledger.

const database = testDatabase(10)
let standIns: Awaited<ReturnType<typeof runningStandIns>>
let server: SignInServer
const login = 'Orla Quill of Tern & Tally'
const asTold: Who = request => {
  const userId = Number(request.headers['x-person'] ?? 0)
  return Promise.resolve(userId > 0 ? { userId, session: null, narrowed: null } : null)
}
const number = 'IE00SKER20260001'
const line = (id: string, date: string, amount: string) => ({
  ...{ line_id: id, date, bank_account: number, amount, currency: 'EUR', description: `OPENHALL ${id}`, reference: '' },
})
let made = 0
let actor: Actor

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
beforeEach(async () => {
  actor = await makeClient(database, `Other grants ${++made}`)
  const euros = { place: 'Galway', country: 'IE', currency: 'EUR' }
  await standIns.put(`/control/services/bank-${made}`, {
    ...{ name: `Skerrymoor Mutual ${made}`, sort: 'bank' },
    shops: {
      [number]: {
        name: `Current ${number}`,
        ...euros,
        lines: [line('B1', '2026-03-02', '12.30'), line('B2', '2026-03-03', '4.00')],
      },
      US00: { name: 'Dollars US00', ...euros, currency: 'USD', lines: [] },
    },
    logins: [{ name: login, shops: [number, 'US00'] }],
  })
  await standIns.put(`/control/services/ledger-${made}`, {
    ...{ name: 'Tarnbook', sort: 'ledger' },
    shops: {
      kiln: {
        ...{ name: 'Kiln Lane Ceramics', ...euros, lines: [] },
        lists: { contacts: [{ number: '1', name: 'Harbour, Café "Sea"', type: 'customer' }] },
      },
    },
    logins: [{ name: login, shops: ['kiln'] }],
  })
  setServices((await (await fetch(`${standIns.url}/services.json`)).json()) as Service[])
})

const ask = (of: Actor, ...[endpoint, asking]: Parameters<ReturnType<typeof makeBrowser>['ask']>) =>
  makeBrowser(server.base).ask(endpoint, {
    client: of.clientId,
    ...asking,
    headers: { 'x-person': String(of.userId) },
  })
const granted = async (of: Actor, service: string): Promise<string> => {
  const { said } = await ask(of, endpoints.askGrant, { body: { service } })
  const { grantId, address } = said as { grantId: string; address: string }
  await ask(of, endpoints.completeGrant, { body: await decideAt(address, server.base, { login }) })
  return grantId
}
const pulled = async (of: Actor) => {
  const jobId = await asClient(database, of, tx => beginJob(tx, of, 'waiting', { sort: 'bank_pull', subject: '1000' }))
  await pullBank(database, { ...of, jobId })
  return asClient(database, of, tx =>
    oneRow(
      tx,
      { state: is.text, message: is.text, added: is.whole },
      sql`SELECT state, message, added FROM job WHERE job_id = ${jobId}`,
    ),
  )
}
const grantsOf = async (of: Actor) => endpoints.grants.answer.parse((await ask(of, endpoints.grants)).said).grants

it('a bank is connected by consent: its account is chosen, pulled, and disconnected', async () => {
  const grantId = await granted(actor, `bank-${made}`)
  const connect = (shop: string, account = '1000') =>
    ask(actor, endpoints.connectBank, { params: { grant: grantId }, body: { shop, account } })
  const { grant, shops } = endpoints.shops.answer.parse(
    (await ask(actor, endpoints.shops, { params: { grant: grantId } })).said,
  )
  expect([grant.scopes, shops.map(shop => shop.id)]).toEqual([['statements'], [number, 'US00']])
  expect((await connect('US00')).said.code).toBe('held_in_another')
  expect((await connect('another')).said.code).toBe('shop_not_there')
  expect((await connect(number, '4000')).status).toBe(404)
  expect((await connect(number)).status).toBe(200)
  expect(await pulled(actor)).toMatchObject({ state: 'done', added: 2 })
  expect(await pulled(actor)).toMatchObject({ state: 'done', added: 0 })
  const kept = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { account: is.text, amount: is.minor },
      sql`SELECT bank_account AS account, amount FROM bank_line ORDER BY line_id`,
    ),
  )
  expect(kept).toEqual([
    { account: '1000', amount: 1230 },
    { account: '1000', amount: 400 },
  ])
  expect((await grantsOf(actor))[0]).toMatchObject({ accounts: ['1000'], sources: [] })
  expect((await ask(actor, endpoints.endGrant, { params: { grant: grantId } })).said.code).toBe('grant_serves')
  // Another account of the same client cannot have it either, and is told which does; a second consent takes the first one's place.
  await takeChart(database, actor, [
    { code: '1001', name: 'Second', type: 'bank', currency: 'EUR', bankNumber: null, description: '' },
  ])
  const again = await connect(number, '1001')
  expect([again.said.code, again.said.error]).toEqual(['shop_taken', expect.stringContaining('account 1000')])
  const anew = await granted(actor, `bank-${made}`)
  await ask(actor, endpoints.connectBank, { params: { grant: anew }, body: { shop: number, account: '1000' } })
  expect((await grantsOf(actor)).map(({ grantId: id, accounts, ended }) => [id, accounts, ended])).toEqual([
    [anew, ['1000'], null],
    [grantId, [], 'disconnected'],
  ])
  // Another client cannot have the same account, whoever signs in.
  const other = await makeClient(database, `Other bank ${made}`)
  const second = await granted(other, `bank-${made}`)
  const taken = await ask(other, endpoints.connectBank, {
    params: { grant: second },
    body: { shop: number, account: '1000' },
  })
  expect(taken.said.code).toBe('shop_taken')
  expect((await ask(actor, endpoints.disconnectBank, { params: { account: '1000' } })).said).toEqual({ told: true })
  expect((await grantsOf(actor))[0]).toMatchObject({ ended: 'disconnected', accounts: [] })
  expect(await pulled(actor)).toMatchObject({ state: 'failed' })
  expect(
    (await ask(other, endpoints.connectBank, { params: { grant: second }, body: { shop: number, account: '1000' } }))
      .status,
  ).toBe(200)
})

it('says so where the bank does not let its lines be seen any more', async () => {
  const grantId = await granted(actor, `bank-${made}`)
  await ask(actor, endpoints.connectBank, { params: { grant: grantId }, body: { shop: number, account: '1000' } })
  const page = await (await fetch(`${standIns.url}/`)).text()
  const mine = page.split('<article>').find(part => part.includes(`Skerrymoor Mutual ${made}<`)) ?? ''
  const [, id] = /action="\/grants\/([^"]+)"/.exec(mine) ?? []
  await fetch(`${standIns.url}/grants/${id}`, { method: 'POST', body: new URLSearchParams({ act: 'withdraw' }) })
  expect(await pulled(actor)).toMatchObject({ state: 'failed', message: expect.stringContaining('withdrawn there') })
  expect((await grantsOf(actor))[0]).toMatchObject({ ended: 'withdrawn', accounts: ['1000'] })
})

it('an outside ledger tells its lists like files of them, once a company is chosen', async () => {
  const list = (name: string) => ask(actor, endpoints.ledgerList, { params: { list: name } })
  expect((await list('contacts')).status).toBe(404)
  const grantId = await granted(actor, `ledger-${made}`)
  const link = (shop: string) => ask(actor, endpoints.connectLedger, { params: { grant: grantId }, body: { shop } })
  expect((await link('another')).said.code).toBe('shop_not_there')
  expect((await link('kiln')).status).toBe(200)
  expect((await ask(actor, endpoints.ledger)).said).toMatchObject({
    link: { name: 'Tarnbook', company: 'Kiln Lane Ceramics', login, ended: false },
  })
  expect((await list('contacts')).said).toEqual({ csv: 'number,name,type\n1,"Harbour, Café ""Sea""",customer\n' })
  // What the ledger does not tell, and what is no list, are said plainly.
  expect((await list('chart')).said.code).toBe('service_silent')
  expect((await list('secrets')).status).toBe(404)
  expect((await ask(actor, endpoints.disconnectLedger)).said).toEqual({ told: true })
  expect((await ask(actor, endpoints.ledger)).said).toEqual({ link: null })
  expect((await grantsOf(actor))[0]).toMatchObject({ ended: 'disconnected', company: null })
})
