import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import {
  type Asked,
  addressOf,
  type Endpoint,
  endpoints,
  jobIn,
  type OutcomeOf,
  outcomeIn,
  type ParamsOf,
  untilOver,
} from '@culvert/contract'
import type { z } from 'zod'
import { bankNumber } from './bank.ts'
import { chequeText, customerText, makeCogwhistle } from './cogwhistle.ts'
import {
  cogwhistleAccounts,
  cogwhistleConfirmedTo,
  cogwhistleOpenedOn,
  cogwhistleOpening,
  cogwhistlePostedTo,
  cogwhistleRoutes,
  cogwhistleTaxCodes,
  cogwhistleTaxes,
  cogwhistleTaxRows,
  cogwhistleWriteOff,
} from './cogwhistleSetup.ts'
import { activityColumns, balanceColumns, bankColumns, camtFile, csvFile, settlementColumns } from './files.ts'
import { mt940File, ofxFile, processorExport } from './foreignFiles.ts'
import { accounts, classes, type Demo, items, makeKilnLane, postedTo, routes, taxCodes, taxRows } from './kilnLane.ts'
import { openedOn, opening, taxPayments } from './kilnLaneBooks.ts'
import { larkwoolRates } from './larkwool.ts'
import type { Row } from './openhall.ts'
import { demoServices, practiceLogin } from './services.ts'
import { type TaxPayment, taxBankLines } from './taxPayments.ts'

const culvert = process.env.CULVERT_URL ?? 'http://127.0.0.1:4780'
const standins = process.env.STANDINS_URL ?? 'http://127.0.0.1:4781'
/** What the bank gave for Kiln Lane’s account, and for no other. */
const bankCredentials = { key: 'kiln-lane-at-the-bank', secret: 'made-up-for-the-demo-too' }

/** What the application gave when Orla signed in. */
let cookie = ''

const ask = async (method: string, url: string, body?: unknown, type = 'application/json'): Promise<unknown> => {
  const response = await fetch(url, {
    method,
    headers: { 'content-type': type, 'x-culvert': 'demo', ...(url.startsWith(culvert) ? { cookie } : {}) },
    body: body === undefined ? null : typeof body === 'string' ? body : JSON.stringify(body),
  })
  const set = response.headers.getSetCookie().map(one => one.split(';')[0] ?? '')
  if (url.startsWith(culvert) && set.length > 0) cookie = set.join('; ')
  const text = await response.text()
  if (!response.ok) throw new Error(`${method} ${url}: ${response.status} ${text.slice(0, 500)}`)
  return text === '' ? null : JSON.parse(text)
}

/** Calls an endpoint of the application; what goes in is read by its schema, as the server will. */
const call = async <Path extends string, Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Path, Query, Body, Answer>,
  asked: {
    readonly client?: number
    readonly params?: ParamsOf<Path>
    readonly query?: Asked
    readonly body?: unknown
    /** A file of rows as CSV, in the place of a body. */
    readonly file?: string
  } = {},
): Promise<OutcomeOf<Answer>> => {
  const body = endpoint.body === 'file' ? asked.file : endpoint.body.parse(asked.body ?? {})
  const sent = endpoint.method === 'GET' ? undefined : body
  const type = asked.file === undefined ? 'application/json' : 'text/csv'
  const answer = await ask(endpoint.method, `${culvert}/api${addressOf(endpoint, asked)}`, sent, type)
  const job = jobIn(answer)
  const kept = job === null || asked.client === undefined ? answer : await outcomeOf(job, asked.client)
  const outcome = outcomeIn(endpoint, kept)
  if (outcome === null) throw new Error(`${endpoint.path} came to nothing`)
  return outcome
}

/** Waits for a job, and gives what it came to. @throws Error where it failed */
const outcomeOf = async (job: string, client: number): Promise<unknown> => {
  const address = `${culvert}/api${addressOf(endpoints.job, { client, params: { job } })}`
  const over = await untilOver(
    async () => endpoints.job.answer.parse(await ask('GET', address)),
    () => pause(300),
  )
  if (over.state !== 'done') throw new Error(`job ${job}: ${over.state} ${over.message}`)
  return over.outcome
}

/** Signs in as one of the demo's people, as its page offers. */
const signInAs = async (name: string): Promise<void> => {
  const person = (await call(endpoints.signInChoices)).demo.find(one => one.name === name)
  if (!person) throw new Error(`${name} is not offered: is CULVERT_DEMO set?`)
  await call(endpoints.signIn, { body: { email: person.email, password: person.password } })
}

/** Makes Ben a junior and Mina the accountant of all clients. */
const letIn = async (): Promise<void> => {
  const { people, clients } = await call(endpoints.people)
  for (const { id, role } of people)
    if (role !== 'owner')
      await call(endpoints.setPerson, {
        params: { person: String(id) },
        body: { role, clients: clients.map(({ clientId }) => ({ clientId, role })) },
      })
}

/** The version of the map that stands: what is saved is made from it. */
const versionOf = async (client: number): Promise<number> => (await call(endpoints.items, { client })).version

const fillStandIns = async (demo: Demo): Promise<void> => {
  for (const [name, service] of Object.entries(demoServices(demo.standIn)))
    await ask('PUT', `${standins}/control/services/${name}`, service)
  // What the application is told of them: where they are, and as what it is known there.
  const directory = process.env.CULVERT_SERVICES
  if (directory) writeFileSync(directory, JSON.stringify(await ask('GET', `${standins}/services.json`)))
  await ask('PUT', `${standins}/control/banks/skerrymoor`, {
    accounts: { [bankNumber]: [...demo.bankLoaded, ...demo.bankStatement] },
    grants: [{ ...bankCredentials, accounts: [bankNumber] }],
  })
}

/** The bank's first statement begins with what the books were opened with. */
const firstStatement = {
  account: bankNumber,
  opening: opening.find(one => one.account === '1000')?.amount ?? 0,
  number: 21,
}
const loadedBalance = (demo: Demo): number =>
  demo.bankLoaded.reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), firstStatement.opening)
const juneStatement = (demo: Demo): string =>
  camtFile(demo.bankStatement, {
    ...firstStatement,
    opening: loadedBalance(demo),
    number: firstStatement.number + new Set(demo.bankLoaded.map(row => row.date?.slice(0, 7))).size,
  })

/** The files that a bookkeeper brings in by hand, beside the demo's data. */
const writeFiles = (demo: Demo): string => {
  const folder = process.env.DEMO_FILES ?? '.data/demo-files'
  mkdirSync(folder, { recursive: true })
  writeFileSync(join(folder, 'skerrymoor-june.camt.xml'), juneStatement(demo))
  writeFileSync(join(folder, 'skerrymoor-june.csv'), csvFile(bankColumns, demo.bankStatement))
  writeFileSync(
    join(folder, 'openhall.activity.csv'),
    csvFile(activityColumns, demo.standIn.lines.slice(0, demo.loaded.lines.length)),
  )
  writeFileSync(join(folder, 'openhall.settlements.csv'), csvFile(settlementColumns, demo.loaded.settlements))
  writeFileSync(join(folder, 'fernstall-27-may.csv'), csvFile(activityColumns, makeCogwhistle().shopMissing))
  const june = [bankNumber, loadedBalance(demo), demo.bankStatement] as const
  writeFileSync(join(folder, 'skerrymoor-june.mt940'), mt940File(...june))
  writeFileSync(join(folder, 'skerrymoor-june.ofx'), ofxFile(...june))
  const may = makeCogwhistle().gateway.filter(row => (row.occurred_at as string).startsWith('2026-05-2'))
  writeFileSync(join(folder, 'brookpay-export.csv'), processorExport(may))
  return folder
}

const loadClient = async (demo: Demo): Promise<void> => {
  const { clientId: client } = await call(endpoints.addClient, {
    body: {
      name: 'Kiln Lane Ceramics',
      base: 'EUR',
      timeZone: 'Europe/Dublin',
      locale: 'en-IE',
      exchangeRounding: '7900',
    },
  })
  await call(endpoints.addAccounts, { client, body: accounts })
  await call(endpoints.saveTaxCodes, { client, body: { codes: taxCodes, version: await versionOf(client) } })
  await call(endpoints.addSource, {
    client,
    body: {
      source: 'openhall',
      name: 'Openhall',
      shape: 'combined',
      clearing: [{ currency: 'EUR', account: '1210' }],
      banks: [
        { direction: 'into', currency: 'EUR', account: '1000' },
        { direction: 'from', currency: 'EUR', account: '1000' },
      ],
      bankTexts: ['OPENHALL SETTL'],
      options: { detail: ['category'] },
    },
  })
  await call(endpoints.saveTaxGrid, {
    client,
    body: { rows: taxRows, classes, byRows: true, version: await versionOf(client) },
  })
  await call(endpoints.saveRoutes, { client, body: { changed: routes, version: await versionOf(client) } })
  await call(endpoints.saveItems, { client, body: { items, version: await versionOf(client) } })
  await call(endpoints.grantBank, {
    client,
    params: { account: '1000' },
    body: { address: `${standins}/banks/skerrymoor`, credentials: bankCredentials },
  })
  const upload = (name: string, file: string) =>
    call(endpoints.upload, { client, params: { source: 'openhall' }, query: { name }, file })
  await upload('openhall.activity.csv', csvFile(activityColumns, demo.loaded.lines))
  await upload('openhall.settlements.csv', csvFile(settlementColumns, demo.loaded.settlements))
  await upload('openhall.balances.csv', csvFile(balanceColumns, demo.loaded.balances))
  const granted = await grant(client, 'openhall')
  await call(endpoints.attachShop, {
    client,
    params: { grant: granted },
    body: { source: 'openhall', shop: 'kiln-lane' },
  })
  await call(endpoints.postOpening, { client, body: { date: openedOn, lines: [...opening] } })
  await postUpTo(client, postedTo)
  await heldAgainstLedger(client, taxPayments)
  await call(endpoints.uploadStatement, {
    client,
    query: { name: 'skerrymoor-may.camt.xml' },
    file: camtFile(demo.bankLoaded, firstStatement),
  })
  await payTaxes(client, taxPayments, { bank: '1000', prefix: 'SKT' })
  await confirmCertain(client, '1000')
}

/** Lets the application see a service, as the practice's login: what its consent page would send back is taken from there. Its grant. */
const grant = async (client: number, service: string): Promise<string> => {
  const { grantId, address } = await call(endpoints.askGrant, { client, body: { service, personalData: 'all' } })
  const form = new URL(address).searchParams
  form.set('login', practiceLogin)
  form.set('decision', 'grant')
  form.set('buyers', 'yes')
  const response = await fetch(address.split('?')[0] ?? '', { method: 'POST', body: form, redirect: 'manual' })
  const back = new URL(response.headers.get('location') ?? '').searchParams
  await call(endpoints.completeGrant, { client, body: { state: back.get('state'), code: back.get('code') } })
  return grantId
}

/** What was paid to tax offices is what the ledger says was owed. @throws Error naming what it should be */
const heldAgainstLedger = async (client: number, payments: readonly TaxPayment[]): Promise<void> => {
  const paid = new Map<string, number>()
  const wrong: string[] = []
  for (const { agency, to, text, accounts: owedOn, amount } of payments) {
    let owed = -(paid.get(agency) ?? 0)
    for (const one of owedOn) {
      const { closing } = await call(endpoints.register, { client, params: { account: one }, query: { to } })
      owed -= closing
    }
    paid.set(agency, (paid.get(agency) ?? 0) + owed)
    if (owed !== amount) wrong.push(`${text}: ${owed}`)
  }
  if (wrong.length > 0)
    throw new Error(`the ledger says otherwise of what was paid to tax offices: ${wrong.join(', ')}`)
}

/** Codes what was paid to tax offices, and marks the periods as filed. */
const payTaxes = async (
  client: number,
  payments: readonly TaxPayment[],
  { bank, prefix }: { readonly bank: string; readonly prefix: string },
): Promise<void> => {
  const lines = taxBankLines(payments, { prefix, account: '', currency: 'EUR' })
  for (const [index, { agency, from, to, on, accounts: owedOn }] of payments.entries()) {
    await call(endpoints.code, {
      client,
      params: { account: bank },
      body: {
        bankLine: lines[index]?.line_id ?? '',
        account: owedOn[0] ?? '',
        taxCode: null,
        memo: `${from} to ${to}`,
      },
    })
    await call(endpoints.fileTax, { client, body: { agency, from, to, filedOn: on } })
  }
}

/** Confirms what is certain, and what is so once that is confirmed. */
const confirmCertain = async (client: number, account: string): Promise<void> => {
  for (;;) {
    const { confirmed } = await call(endpoints.confirmCertain, { client, params: { account } })
    if (confirmed === 0) return
  }
}

/** A workshop with a web shop and a gateway of its own: its files are all brought in. */
const loadCogwhistle = async (): Promise<void> => {
  const made = makeCogwhistle()
  const { clientId: client } = await call(endpoints.addClient, {
    body: {
      name: 'Cogwhistle Workshop',
      base: 'CAD',
      timeZone: 'America/Toronto',
      cutOff: '04:30',
      locale: 'en-CA',
      exchangeRounding: '79000',
    },
  })
  await call(endpoints.addAccounts, { client, body: cogwhistleAccounts })
  await call(endpoints.saveTaxCodes, { client, body: { codes: cogwhistleTaxCodes, version: await versionOf(client) } })
  const banks = [{ direction: 'into' as const, currency: 'CAD', account: '10100' }]
  for (const source of [
    {
      source: 'fernstall',
      name: 'Fernstall',
      shape: 'channel' as const,
      clearing: [{ currency: 'CAD', account: '12200' }],
      banks: [],
    },
    {
      source: 'brookpay',
      name: 'Brookpay',
      shape: 'gateway' as const,
      clearing: [{ currency: 'CAD', account: '12300' }],
      banks,
    },
  ])
    await call(endpoints.addSource, { client, body: source })
  await call(endpoints.saveTaxGrid, {
    client,
    body: { rows: cogwhistleTaxRows, classes: [], byRows: true, version: await versionOf(client) },
  })
  await call(endpoints.saveRoutes, { client, body: { changed: cogwhistleRoutes, version: await versionOf(client) } })
  await call(endpoints.saveLabels, {
    client,
    body: { labels: [{ label: 'Card', source: 'brookpay' }], version: await versionOf(client) },
  })
  await call(endpoints.saveWriteOff, { client, body: { upTo: cogwhistleWriteOff, from: null } })
  const upload = (source: string, columns: readonly string[], rows: readonly Row[], name: string) =>
    call(endpoints.upload, { client, params: { source }, query: { name }, file: csvFile(columns, rows) })
  await upload('fernstall', activityColumns, made.shop, 'fernstall.activity.csv')
  await upload('brookpay', activityColumns, made.gateway, 'brookpay.activity.csv')
  await upload('brookpay', balanceColumns, made.balances, 'brookpay.balances.csv')
  await call(endpoints.postOpening, { client, body: { date: cogwhistleOpenedOn, lines: [...cogwhistleOpening] } })
  await postUpTo(client, cogwhistlePostedTo)
  await heldAgainstLedger(client, cogwhistleTaxes)
  const statement = (name: string, rows: readonly Row[]) =>
    call(endpoints.uploadStatement, { client, query: { name }, file: csvFile(bankColumns, rows) })
  const isEarly = (row: Row) => (row.date as string) <= cogwhistleConfirmedTo
  await statement('skerrymoor-may.csv', made.bank.filter(isEarly))
  const code = (row: Row, account: string, memo: string) =>
    call(endpoints.code, {
      client,
      params: { account: '10100' },
      body: { bankLine: row.line_id ?? '', account, taxCode: null, memo },
    })
  for (const row of made.bank.filter(isEarly)) {
    if (row.description === 'MONTHLY CHARGES') await code(row, '60100', '')
    if (row.description === chequeText) await code(row, '12300', 'cheque of a customer, put here by hand')
    const order = customerText.exec(row.description as string)?.[1]
    if (order) await code(row, '12500', `paid by transfer: ${order}`)
  }
  await payTaxes(client, cogwhistleTaxes, { bank: '10100', prefix: 'CWT' })
  await confirmCertain(client, '10100')
  await statement(
    'skerrymoor-june.csv',
    made.bank.filter(row => !isEarly(row)),
  )
}

/** A client that is being set up: its marketplace is connected and pulled, and nothing says yet how it is booked. */
const loadLarkwool = async (): Promise<void> => {
  const { clientId: client } = await call(endpoints.addClient, {
    body: {
      ...{ name: 'Larkwool Yarns', country: 'US', base: 'USD', timeZone: 'America/Los_Angeles', locale: 'en-US' },
    },
  })
  const { accounts: usual } = await call(endpoints.startingChart, { client })
  await call(endpoints.takeChart, {
    client,
    body: { accounts: usual.map(account => ({ ...account, currency: 'USD' })) },
  })
  await call(endpoints.saveRates, { client, body: { rates: larkwoolRates } })
  const granted = await grant(client, 'openhall')
  const { pull } = await call(endpoints.connectShop, {
    client,
    params: { grant: granted },
    body: {
      ...{ source: 'openhall', name: 'Openhall', service: 'marketplace', shape: 'combined', shop: 'larkwool-yarns' },
      ...{ clearing: [{ currency: 'USD', account: '12700' }], banks: [], personalData: 'name' },
      make: [{ code: '12700', name: 'Openhall clearing', type: 'clearing', currency: 'USD' }],
    },
  })
  await outcomeOf(pull, client)
}

/** Posts every settlement that is proposed and dated up to a day. */
const postUpTo = async (client: number, date: string): Promise<void> => {
  const { rows } = await call(endpoints.settlements, { client, query: { limit: 1000, to: date } })
  const keys = rows
    .filter(row => row.state === 'proposed')
    .map(({ source, key, currency }) => ({ source, key, currency }))
  await call(endpoints.post, { client, body: { keys } })
}

await signInAs('Orla Quill')
const { clients } = await call(endpoints.session)
const demo = makeKilnLane()
const folder = writeFiles(demo)
await fillStandIns(demo)
const isThere = (name: string): boolean => clients.some(client => client.name === name)
if (!isThere('Kiln Lane Ceramics')) await loadClient(demo)
if (!isThere('Cogwhistle Workshop')) await loadCogwhistle()
if (!isThere('Larkwool Yarns')) await loadLarkwool()
console.error(`culvert: files to bring in by hand are in ${folder}`)
await letIn()
