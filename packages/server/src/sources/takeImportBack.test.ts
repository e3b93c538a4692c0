import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { addNote } from '../notes/askNotes.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { listSettlements } from '../settlements/listSettlements.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import {
  addShop,
  csvOf,
  makeClient,
  makeWeeks,
  type Row,
  settlementKeys,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { unsent } from '../testing/writers.ts'
import { loadImport } from './importPage.ts'
import { takeImportBack } from './takeImportBack.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const weeks = makeWeeks(2, 3)
const firstWeek = weeks.lines.filter(row => row.settlement_id === 'W-00001')
const sale = { ...(firstWeek[0] as Row) }

/** Everything that can be seen of what was brought in, apart from who did what when. */
const seen = (actor: Actor) =>
  asClient(database, actor, async tx => ({
    lines: await rowsOf(
      tx,
      { told: is.text },
      sql`SELECT concat_ws(' ', source, line_id, settlement_key, kind, amount, customer, status) AS told FROM line_as_of WHERE stands ORDER BY 1`,
    ),
    settlements: await rowsOf(
      tx,
      { told: is.text },
      sql`SELECT concat_ws(' ', source, key, state, has_head, period_end, closing_balance, lines, gross, payout, balance, corrections, blocks) AS told FROM settlement ORDER BY 1`,
    ),
    weeks: await rowsOf(
      tx,
      { told: is.text },
      sql`SELECT concat_ws(' ', source, kind, week, amount, lines) AS told FROM activity_week WHERE lines <> 0 OR amount <> 0 ORDER BY 1`,
    ),
    balances: await rowsOf(
      tx,
      { told: is.text },
      sql`SELECT concat_ws(' ', source, date, available, reserve) AS told FROM reported_balance ORDER BY 1`,
    ),
    persons: await rowsOf(
      tx,
      { told: is.text },
      sql`SELECT customer AS told FROM personal WHERE customer IS NOT NULL ORDER BY 1`,
    ),
    labels: await rowsOf(tx, { told: is.text }, sql`SELECT label AS told FROM tender_label ORDER BY 1`),
    sources: await rowsOf(
      tx,
      { told: is.text },
      sql`SELECT source || coalesce(pulled_to::text, '') AS told FROM source ORDER BY 1`,
    ),
  }))
const lastFile = async (actor: Actor): Promise<{ source: string; jobId: string }> => {
  const [file] = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { source: is.text, jobId: is.text },
      sql`SELECT subject AS source, job_id AS "jobId" FROM job WHERE sort = 'upload' AND taken_back_at IS NULL AND state = 'done' ORDER BY ordinal DESC LIMIT 1`,
    ),
  )
  if (!file) throw new Error('no file came in')
  return file
}
const backLast = async (actor: Actor) => takeImportBack(database, actor, await lastFile(actor))
const holdsOf = async (actor: Actor) => {
  const file = await lastFile(actor)
  return (await asClient(database, actor, tx => loadImport(tx, file))).holds
}
const post = async (actor: Actor) => postSettlements(database, actor, await settlementKeys(database, actor))

describe('a file that is taken back', () => {
  it('leaves nothing, and can be brought in again', async () => {
    const actor = await makeClient(database, 'Wrong file')
    await addShop(database, actor)
    const before = await seen(actor)
    const shop = [
      { ...sale, line_id: 'f-1', settlement_id: '', customer: 'Odile Fairweather', gateway: '' },
      {
        ...sale,
        line_id: 'f-2',
        settlement_id: '',
        kind: 'tender',
        amount: `-${sale.amount}`,
        gateway: 'Oddpurse',
        customer: '',
      },
    ]
    await upload(database, actor, csvOf(shop), 'wrong.csv', 'fernstall')
    const brought = await seen(actor)
    expect(brought).not.toEqual(before)
    expect(await backLast(actor)).toMatchObject({ sort: 'activity', rows: 2, restored: 0, settlements: 1, holds: [] })
    expect(await seen(actor)).toEqual(before)
    expect(await brokenInvariants(database, actor)).toEqual([])
    expect(await upload(database, actor, csvOf(shop), 'again.csv', 'fernstall')).toMatchObject({
      added: 2,
      revised: 0,
      same: 0,
    })
    expect(await seen(actor)).toEqual(brought)
    expect(await upload(database, actor, csvOf(shop), 'once more.csv', 'fernstall')).toMatchObject({
      added: 0,
      same: 2,
    })
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('gives back what it had changed', async () => {
    const actor = await makeClient(database, 'Changed')
    await upload(database, actor, csvOf(weeks.heads), 'heads.csv')
    await upload(database, actor, csvOf(weeks.lines))
    const before = await seen(actor)
    await upload(
      database,
      actor,
      csvOf([
        { ...sale, amount: '1.00' },
        { ...sale, line_id: 'new' },
      ]),
    )
    expect(await backLast(actor)).toMatchObject({ rows: 2, restored: 1 })
    expect(await seen(actor)).toEqual(before)
    await upload(
      database,
      actor,
      csvOf([
        { ...(weeks.heads[0] as Row), closing_balance: '7.00' },
        { ...(weeks.heads[0] as Row), settlement_id: 'W-99' },
      ]),
      'heads.csv',
    )
    expect(await backLast(actor)).toMatchObject({ sort: 'settlements', rows: 2, restored: 1, settlements: 2 })
    expect(await seen(actor)).toEqual(before)
    const balance = (available: string) =>
      csvOf([
        { source: 'openhall', currency: 'EUR', at: '2026-01-18T23:59:59', available, pending: '0.00', reserve: '0.00' },
      ])
    await upload(database, actor, balance('5.00'), 'balances.csv')
    const held = await seen(actor)
    await upload(database, actor, balance('6.00'), 'balances.csv')
    expect(await backLast(actor)).toMatchObject({ sort: 'balances', rows: 1, restored: 1 })
    expect(await seen(actor)).toEqual(held)
    await backLast(actor)
    expect(await seen(actor)).toEqual(before)
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is held by a posting, and no more once that is taken back', async () => {
    const actor = await makeClient(database, 'Posted')
    await upload(database, actor, csvOf(weeks.lines))
    await post(actor)
    expect(await holdsOf(actor)).toEqual([{ code: 'posted', count: 2, names: ['W-00001', 'W-00002'] }])
    await expect(backLast(actor)).rejects.toMatchObject({ code: 'import_held', status: 409 })
    await takeBack(database, actor, await settlementKeys(database, actor))
    await backLast(actor)
    const after = await seen(actor)
    expect(after.lines).toEqual([])
    expect(await brokenInvariants(database, actor)).toEqual([])
    // What was posted once stays as a settlement of nothing, which is offered to nobody.
    const list = await asClient(database, actor, tx =>
      listSettlements(tx, { state: null, source: null, from: null, to: null, offset: 0, limit: 9 }),
    )
    expect(list).toMatchObject({ rows: [], counts: { proposed: { count: 0 } } })
    await upload(database, actor, csvOf(weeks.lines))
    expect((await post(actor)).posted).toHaveLength(2)
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('of a correction that is not booked takes the correction along, and is held by one that is', async () => {
    const actor = await makeClient(database, 'Corrected')
    await upload(database, actor, csvOf(weeks.lines))
    await post(actor)
    const before = await seen(actor)
    const revised = csvOf([{ ...sale, amount: '9.00' }])
    await upload(database, actor, revised)
    expect(await seen(actor)).not.toEqual(before)
    await backLast(actor)
    expect(await seen(actor)).toEqual(before)
    await upload(database, actor, revised)
    const [key] = await settlementKeys(database, actor)
    if (key) await bookCorrection(database, actor, key)
    expect(await holdsOf(actor)).toMatchObject([{ code: 'posted', names: ['W-00001'] }])
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is held by what came since, by what is tied and posted, and by notes', async () => {
    const actor = await makeClient(database, 'Held')
    await upload(database, actor, csvOf(weeks.lines))
    const first = await lastFile(actor)
    await upload(database, actor, csvOf([{ ...sale, amount: '9.00' }]))
    const holds = async () => (await asClient(database, actor, tx => loadImport(tx, first))).holds
    expect(await holds()).toEqual([{ code: 'changed_since', count: 1, names: [sale.line_id] }])
    await backLast(actor)
    expect(await holds()).toEqual([])
    await addNote(database, actor, unsent, {
      subject: 'line',
      key: `openhall/${sale.line_id}`,
      title: 'a sale',
      link: '/x',
      text: 'odd',
      ask: { who: 'nobody' },
    })
    expect(await holds()).toEqual([{ code: 'noted', count: 1, names: ['a sale'] }])
    await addNote(database, actor, unsent, {
      ...{ subject: 'settlement', key: 'openhall/W-00001/EUR', title: 'a week', link: '/x', text: 'odd' },
      ask: { who: 'nobody' },
    })
    expect(await holds()).toEqual([{ code: 'noted', count: 2, names: ['a sale', 'a week'] }])
  })

  it('is held by whoever told the same again, since it would be lost', async () => {
    const actor = await makeClient(database, 'Told twice')
    await upload(database, actor, csvOf(firstWeek), 'january.csv')
    const first = await lastFile(actor)
    await upload(database, actor, csvOf(weeks.lines), 'all.csv')
    await expect(takeImportBack(database, actor, first)).rejects.toMatchObject({ code: 'import_held' })
    expect((await asClient(database, actor, tx => loadImport(tx, first))).holds).toEqual([
      { code: 'overlapped', count: 1, names: ['all.csv'] },
    ])
    await backLast(actor)
    await takeImportBack(database, actor, first)
    expect((await seen(actor)).lines).toEqual([])
    // A pull that found it known holds it for good: it asks its source for what is new only.
    await upload(database, actor, csvOf(firstWeek), 'again.csv')
    const again = await lastFile(actor)
    await asClient(database, actor, tx =>
      tx.execute(sql`INSERT INTO job (client_id, job_id, sort, subject, state, "by", same, started_at)
        VALUES (current_client(), 'pulled', 'pull', 'openhall', 'done', ${actor.userId}, 3, clock_now())`),
    )
    await expect(takeImportBack(database, actor, again)).rejects.toMatchObject({ code: 'import_held' })
  })

  it('is taken back once, and only where it came in', async () => {
    const actor = await makeClient(database, 'Twice')
    await upload(database, actor, csvOf(weeks.lines))
    const file = await lastFile(actor)
    const both = await Promise.allSettled([
      takeImportBack(database, actor, file),
      takeImportBack(database, actor, file),
    ])
    expect(both.map(one => one.status).sort()).toEqual(['fulfilled', 'rejected'])
    await expect(takeImportBack(database, actor, file)).rejects.toMatchObject({ code: 'import_taken_back' })
    await expect(takeImportBack(database, actor, { ...file, source: 'brookpay' })).rejects.toMatchObject({
      status: 404,
    })
    await expect(upload(database, actor, 'line_id\nx\n')).rejects.toThrow()
    const [failed] = await asClient(database, actor, tx =>
      rowsOf(tx, { id: is.text }, sql`SELECT job_id AS id FROM job WHERE state = 'failed'`),
    )
    await expect(
      takeImportBack(database, actor, { source: 'openhall', jobId: failed?.id ?? '' }),
    ).rejects.toMatchObject({ code: 'import_not_in' })
  })
})
