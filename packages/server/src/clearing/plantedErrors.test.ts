import { Readable } from 'node:stream'
import { type Outcome, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { importBalances } from '../activity/importBalances.ts'
import { codeLine } from '../bank/codeLine.ts'
import { uploadStatement } from '../bank/uploadStatement.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { makeClientWithWeeks, type Row, testDatabase, testUrl } from '../testing/madeClient.ts'
import { loadClearingList, loadProofPage } from './loadClearing.ts'
import { unclosedNow } from './loadProof.ts'
import { stateBalance } from './stateBalance.ts'

const database = testDatabase(8)
const admin = new pg.Client({
  connectionString: (() => {
    const url = new URL(process.env.DATABASE_URL ?? '')
    url.pathname = new URL(testUrl()).pathname
    return url.href
  })(),
})
let actor: Actor

const sumUpTo = (rows: readonly Row[], date: string): number =>
  sumMinor(rows, row => ((row.occurred_at ?? '').slice(0, 10) <= date ? Math.round(Number(row.amount) * 100) : 0))

beforeAll(async () => {
  await admin.connect()
  // Errors are planted past every check that the database has: the proof is what is tried here.
  await admin.query('SET session_replication_role = replica')
})
afterAll(async () => {
  await admin.end()
  await database.$client.end()
})

/** A client with eight weeks, all posted, whose source reports each day's balance. */
const closedClient = async (): Promise<void> => {
  const made = await makeClientWithWeeks(database, 'Planted', 8, 3)
  actor = made.actor
  const days = [...new Set(made.weeks.lines.map(row => (row.occurred_at ?? '').slice(0, 10)))].sort()
  await asClient(database, actor, tx =>
    importBalances(
      tx,
      'openhall',
      days.map(date => ({ currency: 'EUR', date, available: sumUpTo(made.weeks.lines, date), pending: 0, reserve: 0 })),
    ),
  )
  await postSettlements(database, actor, made.keys)
}

const outcomes = async () => {
  const at = (date: string | null) =>
    asClient(database, actor, tx => loadProofPage(tx, '1210', { date, currency: null }))
  const page = await at(null)
  const { accounts } = await asClient(database, actor, loadClearingList)
  const course = await asClient(database, actor, unclosedNow)
  return {
    page: page?.outcome as Outcome,
    later: (await at('2026-12-31'))?.outcome,
    list: accounts[0]?.outcome,
    course: course.length === 0 ? 'closed' : course[0]?.outcome,
    unexplained: page?.unexplained,
    leads: page?.leads ?? [],
  }
}

const entryOf = async (document: string): Promise<{ year: number; number: number; key: string; amount: number }> => {
  const { rows } = await admin.query(
    `SELECT e.fiscal_year AS year, e.number, e.key, l.amount::int AS amount FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number)
     WHERE e.client_id = $1 AND e.document = $2 AND l.account = '1210' ORDER BY e.number OFFSET 2 LIMIT 1`,
    [actor.clientId, document],
  )
  return rows[0]
}

const totalsOf = (amount: number) =>
  admin.query(
    `INSERT INTO account_total (client_id, account, tax_code, segments, currency, day, debit, credit, base_debit, base_credit)
     VALUES ($1, '1210', '', 'planted', 'EUR', '2026-01-12', greatest($2::bigint, 0), greatest(-$2::bigint, 0), 0, 0)
     ON CONFLICT (client_id, account, tax_code, segments, currency, day) DO UPDATE SET debit = account_total.debit + excluded.debit,
       credit = account_total.credit + excluded.credit`,
    [actor.clientId, amount],
  )

describe('an error planted in the database', () => {
  beforeAll(closedClient)
  it('is none in what was posted as it should be', async () => {
    expect(await outcomes()).toMatchObject({ page: 'closed', later: 'closed', list: 'closed', course: 'closed' })
  })

  for (const document of ['journal', 'transfer'] as const)
    for (const kept of [true, false])
      describe(`in a ${document}, ${kept ? 'with' : 'without'} the kept totals`, () => {
        beforeAll(closedClient)
        const planted = async (amount: number, name: string) => {
          if (kept) await totalsOf(amount)
          const found = await outcomes()
          expect(found).toMatchObject({ page: 'open', later: 'open' })
          // The course adds up kept totals; a difference between them and the entries is the page's to find.
          if (kept) expect(found).toMatchObject({ list: 'open', course: 'open' })
          expect(found.unexplained).toBe(-amount)
          expect(found.leads[0], name).toMatchObject({ sort: 'wrong_entry' })
          expect(found.leads.slice(0, 2).flatMap(lead => lead.movements.map(one => one.name))).toContain(name)
          return found
        }

        it('altered, the other way and doubled, is named first', async () => {
          const entry = await entryOf(document)
          const where = `client_id = ${actor.clientId} AND fiscal_year = ${entry.year} AND number = ${entry.number}`
          await admin.query(`UPDATE entry_line SET amount = amount + 1 WHERE ${where} AND account = '1210'`)
          await planted(1, entry.key)
          await admin.query(`UPDATE entry_line SET amount = -(amount - 1) WHERE ${where} AND account = '1210'`)
          if (kept) await totalsOf(-2 * entry.amount - 1)
          expect(await outcomes()).toMatchObject({ page: 'open', unexplained: 2 * entry.amount })
          await admin.query(`UPDATE entry_line SET amount = ${entry.amount} WHERE ${where} AND account = '1210'`)
          if (kept) await totalsOf(2 * entry.amount)
          expect(await outcomes()).toMatchObject({ page: 'closed', course: 'closed' })
          for (const table of ['entry', 'entry_line'])
            await admin.query(
              `INSERT INTO ${table} SELECT (jsonb_populate_record(t, '{"number": 90001}')).* FROM ${table} t WHERE ${where}`,
            )
          await planted(entry.amount, entry.key)
          for (const table of ['entry', 'entry_line'])
            await admin.query(`DELETE FROM ${table} WHERE client_id = ${actor.clientId} AND number = 90001`)
          if (kept) await totalsOf(-entry.amount)
          expect(await outcomes()).toMatchObject({ page: 'closed', course: 'closed' })
        })
        it('deleted, is named first', async () => {
          const entry = await entryOf(document)
          for (const table of ['entry', 'entry_line'])
            await admin.query(
              `DELETE FROM ${table} WHERE client_id = ${actor.clientId} AND fiscal_year = ${entry.year} AND number = ${entry.number}`,
            )
          await planted(-entry.amount, entry.key)
        })
      })

  it('in one of two entries that cancel is still not closed', async () => {
    await closedClient()
    const { rows } = await admin.query(
      `SELECT e.number FROM entry e WHERE e.client_id = $1 AND e.document = 'journal' ORDER BY number LIMIT 2`,
      [actor.clientId],
    )
    for (const [index, { number }] of rows.entries())
      await admin.query(
        `UPDATE entry_line SET amount = amount + ${index === 0 ? 7 : -7} WHERE client_id = $1 AND number = $2 AND account = '1210'`,
        [actor.clientId, number],
      )
    const found = await outcomes()
    expect(found).toMatchObject({ page: 'open', unexplained: 0 })
    expect(found.leads).toHaveLength(2)
  })

  it('in a balance, in a mirror, or in what somebody moved by hand', async () => {
    await closedClient()
    await asClient(database, actor, tx =>
      importBalances(tx, 'openhall', [{ currency: 'EUR', date: '2026-11-30', available: 3, pending: 0, reserve: 0 }]),
    )
    expect(await outcomes()).toMatchObject({ page: 'open', list: 'open', course: 'open' })
    await asClient(database, actor, tx =>
      importBalances(tx, 'openhall', [{ currency: 'EUR', date: '2026-11-30', available: 0, pending: 0, reserve: 0 }]),
    )
    expect(await outcomes()).toMatchObject({ page: 'closed' })
    const [key] = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { source: is.text, key: is.text, currency: is.text },
        sql`SELECT source, key, currency FROM settlement ORDER BY key LIMIT 1`,
      ),
    )
    if (!key) throw new Error('no settlement')
    await takeBack(database, actor, [key])
    expect(await outcomes()).toMatchObject({
      page: 'explained',
      list: 'explained',
      course: 'explained',
      unexplained: 0,
    })
    await admin.query(
      `UPDATE entry_line SET amount = amount + 5 WHERE client_id = $1 AND account = '1210' AND number =
        (SELECT number FROM entry WHERE client_id = $1 AND document = 'reversal' AND payout_line IS NULL)`,
      [actor.clientId],
    )
    expect(await outcomes()).toMatchObject({ page: 'open' })
  })

  it('in the tax of a bank line sent to an account, though what is stated is what the books hold', async () => {
    await closedClient()
    const lines = ['FEE,2026-02-10,1000,-12.30,EUR,QUARTERLY FEE,', 'POST,2026-02-11,1000,-24.60,EUR,PARCELS,']
    await uploadStatement(database, actor, {
      name: 'statement.csv',
      body: Readable.from([
        Buffer.from(`line_id,date,bank_account,amount,currency,description,reference\n${lines.join('\n')}\n`),
      ]),
    })
    for (const bankLine of ['FEE', 'POST'])
      await codeLine(database, actor, { account: '1000', bankLine, to: '6000', taxCode: 'S23', memo: '' })
    const date = '2026-12-31'
    const proved = async () => {
      const { rows } = await admin.query(
        "SELECT sum(amount)::int AS amount FROM entry_line WHERE client_id = $1 AND account = '2200'",
        [actor.clientId],
      )
      await stateBalance(database, actor, { account: '2200', currency: 'EUR', date, amount: rows[0].amount })
      return asClient(database, actor, tx => loadProofPage(tx, '2200', { date, currency: null }))
    }
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0, leads: [] })
    const shift = (cents: number) =>
      admin.query(
        `UPDATE entry_line l SET amount = amount + CASE account WHEN '2200' THEN $2::int ELSE -$2::int END FROM entry e
         WHERE l.client_id = $1 AND account IN ('2200', '6000') AND e.client_id = l.client_id AND e.number = l.number
           AND e.document = 'bank' AND e.date = '2026-02-11'`,
        [actor.clientId, cents],
      )
    await shift(40)
    const found = await proved()
    expect(found).toMatchObject({ outcome: 'open', unexplained: 0 })
    // 20.00 calls for 4.60; 5.00 is booked on 19.60, which calls for 4.51.
    expect(found?.leads[0]).toMatchObject({ sort: 'wrong_entry', movements: [{ date: '2026-02-11', amount: 49 }] })
    await shift(-40)
    expect(await proved()).toMatchObject({ outcome: 'closed' })
  })
})
