import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { keyring, setKeyring } from '../access/keyring.ts'
import { subjectOfSettlement } from '../activity/settlementKey.ts'
import { setLocked } from '../close/loadClose.ts'
import { type Actor, asClient, oneRow } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { setAside, takeUp } from '../settlements/setAside.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { monthChecks } from '../stages.ts'
import { madeRoute, makeClient, makeClientWithWeeks, testDatabase } from '../testing/madeClient.ts'
import { checkSeals, type KnownSeal } from './checkSeals.ts'
import { loadAct, loadActs } from './loadActs.ts'
import { recordAct, type Touched } from './recordAct.ts'

const database = testDatabase(24)
let made: Awaited<ReturnType<typeof makeClientWithWeeks>>
let actor: Actor

beforeAll(async () => {
  made = await makeClientWithWeeks(database, 'Whose acts are sealed', 6, 3)
  actor = made.actor
})
afterAll(() => database.$client.end())

const check = (of: Actor = actor, known: readonly KnownSeal[] = []) =>
  asClient(database, of, tx => checkSeals(tx, of.clientId, known))
const acts = (asked: Partial<Parameters<typeof loadActs>[1]> = {}, of: Actor = actor) =>
  asClient(database, of, tx => loadActs(tx, { offset: 0, limit: 100, ...asked }))

/** As somebody who reaches the database itself, and past every check of it. */
const asMighty = async (...statements: readonly (readonly [string, ...unknown[]])[]): Promise<void> => {
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await client.connect()
  try {
    await client.query('BEGIN')
    await client.query("SET LOCAL session_replication_role = 'replica'")
    for (const [text, ...values] of statements) await client.query(text, values)
    await client.query('COMMIT')
  } finally {
    await client.end()
  }
}

describe('an act', () => {
  it('tells who did what to what, from what and to what, and is found by each of them', async () => {
    const [key] = made.keys
    if (!key) throw new Error('no settlement was made')
    await postSettlements(database, actor, [key])
    await takeBack(database, actor, [key])
    await setAside(database, actor, [key], 'not ours')
    const found = await acts({ subject: 'settlement', key: subjectOfSettlement(key) })
    expect(found.acts.map(act => [act.sort, act.by.name, act.objects[0]?.before, act.objects[0]?.after])).toEqual([
      ['set_aside', 'Orla Quill', { state: 'proposed' }, { state: 'set_aside', reason: 'not ours' }],
      ['take_back', 'Orla Quill', { state: 'posted', generation: 1 }, { state: 'proposed' }],
      ['post', 'Orla Quill', { state: 'proposed' }, { state: 'posted', generation: 1 }],
    ])
    // What touched the settlement is the history of its lines and entries too.
    const line = await acts({ subject: 'line', key: subjectKey('openhall', 'W-00001-0s') })
    expect(line.acts.map(act => act.sort)).toEqual(['set_aside', 'take_back', 'post'])
    const entry = await asClient(database, actor, tx =>
      oneRow(
        tx,
        { key: is.text },
        sql`SELECT fiscal_year || '-' || number AS key FROM entry WHERE client_id = current_client() ORDER BY number LIMIT 1`,
      ),
    )
    expect((await acts({ subject: 'entry', key: entry.key })).acts.map(act => act.sort)).toEqual(['take_back', 'post'])
    expect((await acts({ sort: 'set_aside', by: actor.userId })).count).toBe(1)
    expect((await acts({ by: actor.userId + 1000 })).count).toBe(0)
    const day = new Date().toISOString().slice(0, 10)
    expect((await acts({ from: '2020-01-01', to: '2020-01-02' })).count).toBe(0)
    expect((await acts({ from: '2020-01-01', to: day })).count).toBeGreaterThan(3)
    await takeUp(database, actor, [key])
  })

  it('of a save names each row that was changed, came or went, and no other', async () => {
    const before = await acts({ sort: 'save_routes' })
    const [{ actId } = { actId: '' }] = before.acts
    const all = await asClient(database, actor, tx => loadAct(tx, actId))
    expect(all?.objects.map(one => [one.subject, one.before === null])).toEqual(Array(3).fill(['route', true]))
    const route = all?.objects.find(one => one.after?.kind === 'selling_fee')
    await saveRoutes(database, actor, {
      changed: [madeRoute('selling_fee', { routeId: Number(route?.key), account: '4100' })],
      removed: [],
    })
    const [changed] = (await acts({ subject: 'route', key: route?.key ?? '' })).acts
    expect(changed?.count).toBe(1)
    expect([changed?.objects[0]?.before?.account, changed?.objects[0]?.after?.account]).toEqual(['6000', '4100'])
  })

  it('is not there where what it tells of was undone', async () => {
    const before = await check()
    const broken = asClient(database, actor, async tx => {
      await recordAct(tx, actor, { sort: 'post', touched: [] })
      throw new Error('broken off')
    })
    await expect(broken).rejects.toThrow('broken off')
    await setLocked(database, actor, { month: '2019-01', locked: true, reason: 'x' }, monthChecks)
    const after = await check()
    expect([after.acts, after.faults]).toEqual([before.acts + 1, []])
  })

  it('is sealed as it is kept, whatever its facts are', async () => {
    const odd = fc.dictionary(
      fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }).filter(text => !text.includes('\u0000')),
      fc.oneof(
        fc.string({ unit: 'grapheme' }).filter(text => !text.includes('\u0000')),
        fc.integer(),
        fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e15, max: 1e15 }),
        fc.boolean(),
        fc.constant(null),
        fc.constant(undefined),
      ),
      { maxKeys: 6 },
    )
    await fc.assert(
      fc.asyncProperty(odd, odd, async (before, after) => {
        const touched = [{ subject: 'source', key: 'openhall', before, after }] as unknown as readonly Touched[]
        await asClient(database, actor, tx => recordAct(tx, actor, { sort: 'save_options', note: 'é ✓', touched }))
      }),
      { numRuns: 60, seed: 20_260_401 },
    )
    expect((await check()).faults).toEqual([])
  })

  it('follows one another, however many are done at once', async () => {
    const before = (await check()).acts
    await Promise.all(made.keys.slice(1).map(key => setAside(database, actor, [key], 'at once')))
    await Promise.all(
      made.keys.slice(1).flatMap(key => [takeUp(database, actor, [key]), setAside(database, actor, [key], 'again')]),
    )
    const after = await check()
    expect(after.faults).toEqual([])
    expect(after.acts).toBeGreaterThanOrEqual(before + 2 * made.keys.slice(1).length)
    expect(after.last?.seq).toBe(after.acts)
  })
})

describe('the chain of seals', () => {
  const table = 'client_id = $1'
  const lastActs = async (): Promise<readonly string[]> => (await acts()).acts.map(act => act.actId)

  // Each planted by whoever owns the database, and mended again.
  it.each([
    ['what an act says', 'act', `note = note || ' '`],
    ['who did it', 'act', '"by" = "by" + 1'],
    ['when', 'act', `at = at + interval '1 microsecond'`],
    ['of what sort', 'act', `sort = CASE sort WHEN 'post' THEN 'take_up' ELSE 'post' END`],
    ['what it touched', 'act_object', `key = key || '1'`],
    ['what was so before', 'act_object', `before = coalesce(before, '{}') || '{"planted": 1}'`],
    ['what is so after', 'act_object', `after = NULL`],
    ['the seal itself', 'act_seal', `seal = translate(seal, '0123456789abcdef', '123456789abcdef0')`],
  ])('says where %s was changed', async (_, name, change) => {
    const [, actId] = await lastActs()
    const kept = `planted_${name}`
    await asMighty(
      [`DROP TABLE IF EXISTS ${kept}`],
      [
        `CREATE TABLE ${kept} AS SELECT * FROM ${name} WHERE ${table} AND act_id = '${actId}'`.replace(
          '$1',
          String(actor.clientId),
        ),
      ],
      [`UPDATE ${name} SET ${change} WHERE ${table} AND act_id = $2`, actor.clientId, actId],
    )
    const found = await check()
    await asMighty(
      [`DELETE FROM ${name} WHERE ${table} AND act_id = $2`, actor.clientId, actId],
      [`INSERT INTO ${name} SELECT * FROM ${kept}`],
      [`DROP TABLE ${kept}`],
    )
    expect(found.faults.map(fault => [fault.what, fault.actId])).toContainEqual(['changed', actId])
    expect((await check()).faults).toEqual([])
  })

  it('says where an act was taken out, put in, or the end cut off', async () => {
    const mine = await makeClient(database, 'Whose chain is broken')
    for (const month of ['2019-01', '2019-02', '2019-03'])
      await setLocked(database, mine, { month, locked: true, reason: 'x' }, monthChecks)
    const whole = await check(mine)
    expect(whole.faults).toEqual([])
    const last = whole.last ?? { seq: 0, seal: '' }
    const of = mine.clientId
    // Whoever takes an act out with its seal leaves a gap.
    const gap = last.seq - 1
    await asMighty(
      ['CREATE TABLE planted_gap AS SELECT * FROM act_seal WHERE false'],
      ['INSERT INTO planted_gap SELECT * FROM act_seal WHERE client_id = $1 AND seq = $2', of, gap],
      ['DELETE FROM act_seal WHERE client_id = $1 AND seq = $2', of, gap],
    )
    const missing = await check(mine)
    expect(missing.faults.map(fault => [fault.what, fault.seq])).toContainEqual(['missing', gap])
    // The act itself stands there without a seal.
    expect(missing.faults.map(fault => fault.what)).toContain('unsealed')
    await asMighty(['INSERT INTO act_seal SELECT * FROM planted_gap'], ['DROP TABLE planted_gap'])
    expect((await check(mine)).faults).toEqual([])
    // Whoever cuts the end off must change the head too, and cannot change what was written down elsewhere.
    await asMighty(['DELETE FROM act_seal WHERE client_id = $1 AND seq = $2', of, last.seq])
    expect((await check(mine)).faults.map(fault => fault.what)).toContain('cut_off')
    await asMighty([
      'UPDATE act_head h SET seq = s.seq, seal = s.seal FROM act_seal s WHERE h.client_id = $1 AND s.client_id = $1 AND s.seq = $2',
      of,
      last.seq - 1,
    ])
    await asMighty([
      'DELETE FROM act WHERE client_id = $1 AND act_id NOT IN (SELECT act_id FROM act_seal WHERE client_id = $1)',
      of,
    ])
    expect((await check(mine)).faults).toEqual([])
    expect((await check(mine, [last])).faults.map(fault => [fault.what, fault.seq])).toEqual([['cut_off', last.seq]])
    // And who lets it grow again does not come to the same.
    await setLocked(database, mine, { month: '2019-04', locked: true, reason: 'planted' }, monthChecks)
    expect((await check(mine, [last])).faults.map(fault => [fault.what, fault.seq])).toEqual([['changed', last.seq]])
  })

  it('is gone on with where acts of before have no seal', async () => {
    const mine = await makeClient(database, 'Of before seals')
    await asMighty(
      ['DELETE FROM act_seal WHERE client_id = $1', mine.clientId],
      ['DELETE FROM act_head WHERE client_id = $1', mine.clientId],
    )
    const before = await asClient(database, mine, tx =>
      oneRow(tx, { acts: is.whole }, sql`SELECT count(*)::int AS acts FROM act WHERE client_id = current_client()`),
    )
    expect((await check(mine)).faults).toEqual([])
    await setLocked(database, mine, { month: '2019-01', locked: true, reason: 'x' }, monthChecks)
    const after = await check(mine)
    expect([after.acts, after.faults]).toEqual([before.acts + 1, []])
  })

  it('outlives a change of the secret, and says which key it lacks', async () => {
    const [{ secret }] = keyring()
    try {
      setKeyring(['another secret of the tests, which is new', secret])
      await setLocked(database, actor, { month: '2019-02', locked: true, reason: 'x' }, monthChecks)
      expect((await check()).faults).toEqual([])
      setKeyring([secret])
      expect((await check()).faults.map(fault => fault.what)).toEqual(['unknown_key'])
    } finally {
      setKeyring(['another secret of the tests, which is new', secret])
      expect((await check()).faults).toEqual([])
      setKeyring(null)
    }
  })
})
