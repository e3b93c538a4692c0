import { addressOf, type Endpoint, endpoints, roles } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { type SignInServer, signInServer } from '../testing/signedIn.ts'
import { ensurePerson } from './practice.ts'
import type { Who } from './who.ts'

// What each role may ask, written out once more: a new endpoint without a line here fails, and so does one whose right was changed by mistake.
// o owner, b bookkeeper, j junior, a accountant, g guest.
const expected: Readonly<Record<string, string>> = {
  ...open('signInChoices signIn secondFactor forgotten resetPassword lookAtInvitation acceptInvitation'),
  ...to('objag', 'signOut account endSession changePassword beginSecondFactor confirmSecondFactor endSecondFactor'),
  ...to('objag', 'addToken withdrawToken session description'),
  ...to('o', 'people invite withdrawInvitation setPerson removePerson endFactorOf keepFactorOf'),
  ...to('ob', 'addClient saveClient archiveClient removeClient addSource saveSource removeSource grantBank setLocked'),
  ...to('ob', 'cancelPosting post takeBack correct decidePayments undoPayments decideDispute undoDispute'),
  ...to('ob', 'postOpening undoOpening'),
  ...to('oba', 'fileTax withdrawFiling addRegistration saveRegistration'),
  ...to(
    'obj',
    'cancelPull pull upload uploadStatement takeImportBack takeStatementBack sayOfRowAside pullBank lookAtFile saveColumns',
  ),
  ...to('obj', 'cancelConfirming saveWording code setAsideItems confirm confirmCertain undoPairings'),
  ...to('obj', 'cancelCounting saveOptions saveRules saveItems saveRoutes saveTaxCodes addAccounts saveTaxGrid'),
  ...to(
    'obj',
    'saveAccount readChart takeChart saveLabels saveWriteOff saveRates setAside sayNoDouble takeUp stateBalance answerProof undoProofAnswer',
  ),
  ...to(
    'obja',
    'clientSettings bankProof cutOver sourceSettings chartAccount startingChart course overview find jobs job sources options basisEffect pulls mapping starter rules touchedByRules',
  ),
  ...to(
    'obja',
    'ruleLines items products accounts taxCheck taxLines taxGrid gridLines taxFilings registrations settlements',
  ),
  ...to('obja', 'settlement settlementLines tieOut disputes clearing proof bankAccounts wordings bank proposals'),
  ...to('obja', 'rates chart opening entries entry register trace months month'),
  ...to('obja', 'acts act checkSeals notes addNote members closeQuestion withdrawLink personalOfSource customers'),
  ...to('objag', 'asked answer attach evidence changeAddress'),
  ...open('lookAtQuestion openQuestion answerByLink attachByLink evidenceByLink confirmAddress'),
  ...to(
    'ob',
    'askGrant askOwner completeGrant shops endGrant connectShop attachShop disconnect connectBank disconnectBank connectLedger disconnectLedger',
  ),
  ...to(
    'obja',
    'services grants connection missing importedFile importedStatement contacts openItems ledger rowsAside missingNames',
  ),
  ...to(
    'obj',
    'pullAll makeMissing makeNames ledgerList saveContacts removeContact saveOpenItems readContacts readOpenItems readRates readBalances readItems readTaxes',
  ),
  ...open('lookAtGrant beginGranting completeByLink hook'),
  ...to('o', 'practiceActs eraseCustomers'),
  ...to('ob', 'setPersonalScope exportCustomers giveConsent refuseConsent'),
  ...to('obj', 'askConsent withdrawConsent'),
}
function to(who: string, names: string): Record<string, string> {
  return Object.fromEntries(names.split(' ').map(name => [name, who]))
}
function open(names: string): Record<string, string> {
  return to('objag*', names)
}

const database: Database = testDatabase(12)
let server: SignInServer
let own = 0
let foreign = 0
const people = new Map<string, number>()

// Who asks is told by a header, so that this is about rights and nothing else.
const asTold: Who = request => {
  const userId = Number(request.headers['x-person'] ?? 0)
  return Promise.resolve(userId > 0 ? { userId, session: null, narrowed: null } : null)
}

beforeAll(async () => {
  const actor = await makeClient(database, 'Of all roles')
  own = actor.clientId
  foreign = (await makeClient(database, 'Of somebody else')).clientId
  for (const role of roles) {
    const userId =
      role === 'owner'
        ? actor.userId
        : await ensurePerson(database, { email: `${role}@ternandtally.example`, name: role, role })
    people.set(role, userId)
    if (role === 'owner') continue
    await asClient(database, actor, tx =>
      tx.execute(sql`INSERT INTO membership (client_id, user_id, role) VALUES (${own}, ${userId}, ${role})
        ON CONFLICT (client_id, user_id) DO UPDATE SET role = excluded.role`),
    )
  }
  server = await signInServer(database, asTold)
})
afterAll(async () => {
  await server.stop()
  await database.$client.end()
})

const ask = async (endpoint: Endpoint, of: { person: number; client: number }) => {
  const names = [...endpoint.path.matchAll(/:(\w+)/g)].map(match => [match[1] as string, 'nowhere'])
  const address = addressOf(endpoint, { client: of.client, params: Object.fromEntries(names) })
  const response = await fetch(server.base + address, {
    method: endpoint.method,
    headers: {
      ...{ 'content-type': endpoint.body === 'file' ? 'text/csv' : 'application/json', 'x-culvert': 'test' },
      ...(of.person > 0 ? { 'x-person': String(of.person) } : {}),
    },
    ...(endpoint.method === 'GET' ? {} : { body: endpoint.body === 'file' ? 'a' : '{' }),
  })
  const said = (await response.json()) as { code?: string; error?: string }
  return { status: response.status, code: said.code }
}
const all = Object.entries(endpoints) as [string, Endpoint][]
// Signing out would end a session that is none here.
const isAct = (name: string): boolean => !['signOut'].includes(name)

describe('every endpoint', () => {
  it('has an expectation, and no expectation is of none', () => {
    expect(Object.keys(expected).sort()).toEqual(Object.keys(endpoints).sort())
  })

  it.each(all)('%s is for those whom it is for', async (name, endpoint) => {
    const may = expected[name] ?? ''
    for (const role of roles) {
      const { status, code } = await ask(endpoint, { person: people.get(role) ?? 0, client: own })
      // A body that is none is refused as such only where one may: whoever may not is told so before it is read.
      if (may.includes(role.charAt(0))) expect([name, role, code]).not.toEqual([name, role, 'may_not'])
      else expect([name, role, status, code]).toEqual([name, role, 403, 'may_not'])
    }
  })

  it.each(all.filter(([name]) => isAct(name)))('%s asks who it is', async (name, endpoint) => {
    const { status, code } = await ask(endpoint, { person: 0, client: own })
    if ((expected[name] ?? '').includes('*')) expect(code).not.toBe('not_signed_in')
    else expect([name, status, code]).toEqual([name, 401, 'not_signed_in'])
  })

  it.each(all.filter(([, endpoint]) => endpoint.of === 'client'))(
    '%s knows no client of others',
    async (name, endpoint) => {
      for (const role of roles.filter(one => one !== 'owner'))
        expect([name, (await ask(endpoint, { person: people.get(role) ?? 0, client: foreign })).status]).toEqual([
          name,
          404,
        ])
    },
  )
})

describe('the database itself', () => {
  it('shows a client to nobody who is not of it, whatever the program names', async () => {
    for (const role of roles.filter(one => one !== 'owner')) {
      const seen = await asClient(database, { userId: people.get(role) ?? 0, clientId: foreign }, tx =>
        rowsOf(tx, { accounts: is.whole }, sql`SELECT count(*)::int AS accounts FROM account`),
      )
      expect([role, seen[0]?.accounts]).toEqual([role, 0])
    }
    // A guest is of the client, and sees none of its books.
    const books = await asClient(database, { userId: people.get('guest') ?? 0, clientId: own }, tx =>
      rowsOf(
        tx,
        { accounts: is.whole, stages: is.whole },
        sql`SELECT (SELECT count(*)::int FROM account) AS accounts, (SELECT count(*)::int FROM client_summary) AS stages`,
      ),
    )
    expect(books).toEqual([{ accounts: 0, stages: 0 }])
  })

  it('lets nobody write what their role may not', async () => {
    const writes = {
      route: sql`INSERT INTO route (client_id, kind, "from") VALUES (${own}, 'sale', '2026-01-01')`,
      source_options: sql`INSERT INTO source_options (client_id) VALUES (${own})`,
      posting: sql`INSERT INTO posting (client_id) VALUES (${own})`,
      tax_filing: sql`INSERT INTO tax_filing (client_id, "by") VALUES (${own}, current_person())`,
      note: sql`INSERT INTO note (client_id, "by") VALUES (${own}, current_person())`,
      consent: sql`INSERT INTO consent (client_id, asked_by) VALUES (${own}, current_person())`,
      bank_grant: sql`INSERT INTO bank_grant (client_id) VALUES (${own})`,
    }
    const may = {
      ...{
        route: 'obj',
        source_options: 'obj',
        posting: 'ob',
        tax_filing: 'oba',
        note: 'obja',
        consent: 'obj',
        bank_grant: 'ob',
      },
    }
    for (const [table, statement] of Object.entries(writes))
      for (const role of roles) {
        const refused = await asClient(database, { userId: people.get(role) ?? 0, clientId: own }, tx =>
          tx.execute(statement),
        ).then(
          () => '',
          (error: Error) => String((error.cause as Error | undefined)?.message ?? error.message),
        )
        expect([table, role, /row-level security/.test(refused)]).toEqual([
          table,
          role,
          !may[table as keyof typeof may].includes(role.charAt(0)),
        ])
      }
  })

  it('lets nobody change or take away what their role may not', async () => {
    await asClient(database, { userId: people.get('owner') ?? 0, clientId: own }, async tx => {
      await tx.execute(sql`INSERT INTO period (client_id, month) VALUES (${own}, '2019-01') ON CONFLICT DO NOTHING`)
      await tx.execute(
        sql`INSERT INTO exchange_rate (client_id, date, "from", "to", rate) VALUES (${own}, '2019-01-01', 'USD', 'EUR', 0.9) ON CONFLICT DO NOTHING`,
      )
    })
    const writes = {
      period: [sql`UPDATE period SET reason = 'x' WHERE month = '2019-01'`, 'ob'],
      account: [sql`UPDATE account SET name = name WHERE code = '4000'`, 'obj'],
      exchange_rate: [sql`DELETE FROM exchange_rate WHERE date = '2019-01-01'`, 'obj'],
    } as const
    for (const [table, [statement, may]] of Object.entries(writes))
      for (const role of roles) {
        const rollback = new Error('done')
        const changed = await asClient(database, { userId: people.get(role) ?? 0, clientId: own }, async tx => {
          const { rowCount } = await tx.execute(statement)
          throw Object.assign(rollback, { rowCount })
        }).catch((error: Error & { rowCount?: number }) => (error === rollback ? (error.rowCount ?? 0) > 0 : false))
        expect([table, role, changed]).toEqual([table, role, may.includes(role.charAt(0))])
      }
  })

  it('lets nobody act as somebody else', async () => {
    const owner = people.get('owner') ?? 0
    for (const role of roles.filter(one => one !== 'owner')) {
      const posing = asClient(database, { userId: people.get(role) ?? 0, clientId: own }, tx =>
        tx.execute(
          sql`INSERT INTO act (client_id, act_id, sort, "by") VALUES (${own}, ${`as ${role}`}, 'post', ${owner})`,
        ),
      )
      await expect(posing, role).rejects.toMatchObject({ cause: { code: '42501' } })
    }
  })
})
