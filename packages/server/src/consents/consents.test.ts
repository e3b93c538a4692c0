import type { WantedAct } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ensurePerson } from '../access/practice.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { decidePayments } from '../payments/decidePayments.ts'
import { loadTieOut } from '../payments/loadTieOut.ts'
import { undoPayments } from '../payments/undoPayments.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { consentables } from '../stages.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import { csvOf, madeRoute, makeClientWithWeeks, testDatabase, upload } from '../testing/madeClient.ts'
import { makeRacedClient } from '../testing/writers.ts'
import { askConsent, giveConsent, loadAskedConsents, refuseConsent, withdrawConsent } from './consents.ts'

const database = testDatabase(16)
let orla: Actor
let junior: Actor
let keys: readonly SettlementKey[]

beforeAll(async () => {
  const made = await makeClientWithWeeks(database, 'With consent', 12, 3)
  orla = made.actor
  keys = made.keys
  const userId = await ensurePerson(database, {
    email: 'consent.ben@ternandtally.example',
    name: 'Ben Aster',
    role: 'junior',
  })
  await asClient(database, orla, tx =>
    tx.execute(sql`INSERT INTO membership (client_id, user_id, role) VALUES (${orla.clientId}, ${userId}, 'junior')`),
  )
  junior = { userId, clientId: orla.clientId }
})
afterAll(async () => {
  expect(await brokenInvariants(database, orla)).toEqual([])
  await database.$client.end()
})

const ask = (wanted: WantedAct, by: Actor = junior) => askConsent(database, consentables, by, { wanted })
const give = (consentId: string, by: Actor = orla) => giveConsent(database, consentables, by, consentId)
const waiting = (of: Actor) => asClient(database, of, tx => loadAskedConsents(tx, consentables, of.userId))
const stateOf = async (key: SettlementKey): Promise<string> =>
  asClient(database, orla, async tx => {
    const row = await oneRow(
      tx,
      { state: is.text },
      sql`SELECT state FROM settlement WHERE client_id = current_client() AND source = ${key.source} AND key = ${key.key}`,
    )
    return row.state
  })
const outcomeOf = (consentId: string) =>
  asClient(database, orla, async tx => {
    const [row] = await rowsOf(
      tx,
      { outcome: is.maybe(is.text) },
      sql`SELECT outcome FROM consent WHERE consent_id = ${consentId}`,
    )
    return row?.outcome ?? null
  })
const some = (from: number, to = from + 1): SettlementKey[] => keys.slice(from, to) as SettlementKey[]

describe('what a junior wants posted', () => {
  it('waits for whoever may post, and is posted by them, as asked', async () => {
    const wanted = { sort: 'post', keys: some(0, 2) } as const
    const { consentId, count, amount } = await ask(wanted)
    expect([count, amount > 0]).toEqual([2, true])
    expect((await waiting(orla)).consents).toMatchObject([
      { consentId, askedBy: { name: 'Ben Aster' }, count: 2, stands: true },
    ])
    expect((await waiting(junior)).consents).toEqual([])
    expect(await give(consentId)).toEqual({ done: 2 })
    expect(await stateOf(wanted.keys[0] as SettlementKey)).toBe('posted')
    expect((await waiting(junior)).wanted[0]).toMatchObject({ outcome: 'given', decidedBy: 'Orla Quill' })
    const [act] = await asClient(database, orla, tx =>
      rowsOf(
        tx,
        { by: is.whole, sort: is.text },
        sql`SELECT "by", sort FROM act WHERE sort = 'post' ORDER BY at DESC LIMIT 1`,
      ),
    )
    expect(act?.by).toBe(orla.userId)
    await expect(give(consentId)).rejects.toMatchObject({ code: 'consent_decided' })
  })

  it('is consented to by nobody who may not post, nor by who asked for it', async () => {
    const { consentId } = await ask({ sort: 'post', keys: some(2) })
    await expect(give(consentId, junior)).rejects.toMatchObject({ code: 'own_consent' })
    const other = await ensurePerson(database, {
      email: 'consent.two@ternandtally.example',
      name: 'Two',
      role: 'junior',
    })
    await asClient(database, orla, tx =>
      tx.execute(sql`INSERT INTO membership (client_id, user_id, role) VALUES (${orla.clientId}, ${other}, 'junior')`),
    )
    await expect(give(consentId, { userId: other, clientId: orla.clientId })).rejects.toMatchObject({ code: 'may_not' })
    // Nor past the program.
    const past = asClient(database, { userId: other, clientId: orla.clientId }, tx =>
      tx.execute(
        sql`UPDATE consent SET outcome = 'given', decided_by = ${other}, decided_at = now() WHERE consent_id = ${consentId}`,
      ),
    )
    await expect(past).rejects.toMatchObject({ cause: { code: '42501' } })
    const own = await ask({ sort: 'post', keys: some(3) }, orla)
    await expect(give(own.consentId)).rejects.toMatchObject({ code: 'own_consent' })
    expect([await stateOf(some(2)[0] as SettlementKey), await outcomeOf(consentId)]).toEqual(['proposed', null])
    await withdrawConsent(database, junior, consentId)
    expect(await outcomeOf(consentId)).toBe('withdrawn')
  })

  it('is not posted where the setup was saved since, whatever was saved', async () => {
    const { consentId } = await ask({ sort: 'post', keys: some(4) })
    // Of no concern to what is to be posted: but it was another setup that they looked at.
    await saveRoutes(database, orla, { changed: [madeRoute('tip', { account: '4000' })], removed: [] })
    expect((await waiting(orla)).consents[0]?.stands).toBe(false)
    await expect(give(consentId)).rejects.toMatchObject({ code: 'consent_moved' })
    expect([await stateOf(some(4)[0] as SettlementKey), await outcomeOf(consentId)]).toEqual(['proposed', 'moved'])
  })

  it('is not posted where its lines came back changed, though it could be', async () => {
    const [key] = some(5)
    if (!key) throw new Error('no settlement')
    const { consentId } = await ask({ sort: 'post', keys: [key] })
    await upload(
      database,
      orla,
      csvOf([
        {
          line_id: `${key.key}-0f`,
          settlement_id: key.key,
          occurred_at: '2026-02-09T10:00:00Z',
          kind: 'selling_fee',
          order_id: '5-0',
          currency: 'EUR',
          amount: '-1.21',
        },
        {
          line_id: `${key.key}-adj`,
          settlement_id: key.key,
          occurred_at: '2026-02-09T10:00:00Z',
          kind: 'selling_fee',
          order_id: '5-0',
          currency: 'EUR',
          amount: '0.01',
        },
      ]),
    )
    await expect(give(consentId)).rejects.toMatchObject({ code: 'consent_moved' })
    expect(await outcomeOf(consentId)).toBe('moved')
    expect(await stateOf(key)).not.toBe('posted')
  })

  it('is all posted or nothing of it', async () => {
    const wanted = some(6, 9)
    const { consentId } = await ask({ sort: 'post', keys: wanted })
    await postSettlements(database, orla, wanted.slice(0, 1))
    await expect(give(consentId)).rejects.toMatchObject({ code: 'consent_moved' })
    expect(await Promise.all(wanted.map(stateOf))).toEqual(['posted', 'proposed', 'proposed'])
    // What cannot be posted as it stands is not asked for.
    await expect(ask({ sort: 'post', keys: wanted })).rejects.toMatchObject({ code: 'not_to_consent' })
  })

  it('is posted once, however often consent is pressed', async () => {
    const { consentId } = await ask({ sort: 'post', keys: some(9) })
    const pressed = await Promise.allSettled(Array.from({ length: 5 }, () => give(consentId)))
    expect(pressed.filter(one => one.status === 'fulfilled')).toHaveLength(1)
    expect([await stateOf(some(9)[0] as SettlementKey), await outcomeOf(consentId)]).toEqual(['posted', 'given'])
  })

  it('is refused with a reason, which they see', async () => {
    const { consentId } = await ask({ sort: 'post', keys: some(10) })
    await refuseConsent(database, orla, { consentId, reason: 'the refund is missing' })
    expect((await waiting(junior)).wanted[0]).toMatchObject({ outcome: 'refused', reason: 'the refund is missing' })
    await expect(give(consentId)).rejects.toMatchObject({ code: 'consent_decided' })
  })
})

it('taking back, and locking a month, wait likewise', async () => {
  const back = await ask({ sort: 'take_back', keys: some(0) })
  expect(await give(back.consentId)).toEqual({ done: 1 })
  expect(await stateOf(some(0)[0] as SettlementKey)).toBe('proposed')
  const lock = await ask({ sort: 'lock', month: '2026-01', locked: true, reason: 'agreed' })
  // Something is posted into the month after it was asked for.
  const [key] = some(0)
  if (key) await postSettlements(database, orla, [key])
  await expect(give(lock.consentId)).rejects.toMatchObject({ code: 'consent_moved' })
  const again = await ask({ sort: 'lock', month: '2026-01', locked: true, reason: 'agreed' })
  expect(await give(again.consentId)).toEqual({ done: 1 })
  const opened = await ask({ sort: 'lock', month: '2026-01', locked: false, reason: '' })
  expect(await give(opened.consentId)).toEqual({ done: 1 })
})

it('a correction is booked of the lines that it was asked for, and of no later ones', async () => {
  const [key] = some(11)
  if (!key) throw new Error('no settlement')
  await postSettlements(database, orla, [key])
  // Two lines that together come to what the one did: the settlement still foots.
  const revise = (cents: number) =>
    upload(
      database,
      orla,
      csvOf(
        [
          [`${key.key}-0f`, -120 - cents],
          [`${key.key}-more`, cents],
        ].map(([line, amount]) => ({
          line_id: String(line),
          settlement_id: key.key,
          occurred_at: '2026-03-23T10:00:00Z',
          kind: line === `${key.key}-more` ? 'shipping' : 'selling_fee',
          order_id: '11-0',
          currency: 'EUR',
          amount: (Number(amount) / 100).toFixed(2),
        })),
      ),
    )
  await expect(ask({ sort: 'correct', key })).rejects.toMatchObject({ code: 'not_to_consent' })
  await revise(10)
  const first = await ask({ sort: 'correct', key })
  await revise(20)
  await expect(give(first.consentId)).rejects.toMatchObject({ code: 'consent_moved' })
  const second = await ask({ sort: 'correct', key })
  expect(await give(second.consentId)).toEqual({ done: 1 })
  await expect(ask({ sort: 'correct', key })).rejects.toMatchObject({ code: 'not_to_consent' })
})

it('payments are decided as they were asked to be, all or none', async () => {
  const place = await makeRacedClient(database, 'Decided with consent')
  const owner = place.actor
  const second = { userId: junior.userId, clientId: owner.clientId }
  await asClient(database, owner, tx =>
    tx.execute(
      sql`INSERT INTO membership (client_id, user_id, role) VALUES (${owner.clientId}, ${second.userId}, 'junior')`,
    ),
  )
  const { items } = await asClient(database, owner, loadTieOut)
  const decisions = items.slice(0, 2).map(({ decide, amount, acts, hindered }) => ({
    ...{ of: decide, amount, note: 'as agreed' },
    decision:
      acts.includes('gift') && hindered === null
        ? ({ as: 'gift', account: '6000' } as const)
        : ({ as: 'set_aside' } as const),
  }))
  expect(decisions).toHaveLength(2)
  const wanted = { sort: 'decide_payments', decisions } as const satisfies WantedAct
  const asked = () => askConsent(database, consentables, second, { wanted })
  const consent = (consentId: string) => giveConsent(database, consentables, owner, consentId)
  const first = await asked()
  expect(first.count).toBe(2)
  // One of them was decided meanwhile.
  await decidePayments(database, owner, decisions.slice(0, 1))
  await expect(consent(first.consentId)).rejects.toMatchObject({ code: 'consent_moved' })
  await undoPayments(
    database,
    owner,
    decisions.slice(0, 1).map(one => one.of),
  )
  const again = await asked()
  expect(await consent(again.consentId)).toEqual({ done: 2 })
  expect((await asClient(database, owner, loadTieOut)).items.length).toBe(items.length - 2)
  expect(await brokenInvariants(database, owner)).toEqual([])
})
