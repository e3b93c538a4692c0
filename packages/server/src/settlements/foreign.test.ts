import { Readable } from 'node:stream'
import { newSource } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { saveRates } from '../books/saveRates.ts'
import { loadProofPage } from '../clearing/loadClearing.ts'
import { countStaleIn } from '../course/countStale.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadMapping } from '../mapping/loadMapping.ts'
import { createSource } from '../sources/createSource.ts'
import { uploadFile } from '../sources/uploadFile.ts'
import { counters } from '../stages.ts'
import { booksOf, csvOf, makeClient, testDatabase } from '../testing/madeClient.ts'
import { postSettlements } from './postSettlements.ts'
import { takeBack } from './takeBack.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const key = (name: string) => ({ source: 'brookpay', key: name, currency: 'USD' })
const lines = [
  // 1,000.00 at 0.92 and 500.00 at 0.90 come in; 600.00 are paid out when a dollar is worth 0.88, then the rest at 0.95.
  ['c1', 'A', '2026-03-02', 'sale', '1000.00'],
  ['p1', 'A', '2026-03-10', 'payout', '-600.00'],
  ['c2', 'B', '2026-03-09', 'sale', '500.00'],
  ['p2', 'B', '2026-03-20', 'payout', '-900.00'],
]
const rates = [
  ['2026-03-01', '0.92'],
  ['2026-03-09', '0.90'],
  ['2026-03-10', '0.88'],
  ['2026-03-20', '0.95'],
]

const dollarClient = async (name: string): Promise<Actor> => {
  const actor = await makeClient(database, name, { exchangeDifference: '7910' })
  await asClient(database, actor, async tx => {
    for (const [code, title, type, currency] of [
      ['1001', 'Skerrymoor dollar account', 'bank', 'USD'],
      ['1230', 'Brookpay clearing, dollars', 'clearing', 'USD'],
      ['7910', 'Exchange differences', 'other_income', 'EUR'],
    ])
      await tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency)
        VALUES (current_client(), ${code}, ${title}, ${type}, ${currency})`)
    for (const [date, rate] of rates)
      await tx.execute(sql`INSERT INTO exchange_rate (client_id, date, "from", "to", rate)
        VALUES (current_client(), ${date}, 'USD', 'EUR', ${rate})`)
  })
  await createSource(
    database,
    actor,
    newSource.parse({
      source: 'brookpay',
      name: 'Brookpay',
      shape: 'gateway',
      clearing: [{ currency: 'USD', account: '1230' }],
      banks: [{ direction: 'into', currency: 'USD', account: '1001' }],
      bankTexts: [],
      address: null,
      credentials: null,
    }),
  )
  const file = csvOf(
    lines.map(([line_id = '', settlement_id = '', date = '', kind = '', amount = '']) => ({
      line_id,
      settlement_id,
      occurred_at: `${date}T10:00:00Z`,
      kind,
      currency: 'USD',
      amount,
    })),
  )
  await uploadFile(database, actor, {
    source: 'brookpay',
    name: 'activity.csv',
    body: Readable.from([Buffer.from(file)]),
  })
  return actor
}

const inBase = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { account: is.text, amount: is.minor, base: is.minor },
      sql`SELECT l.account, sum(l.amount)::bigint AS amount, sum(l.base_amount)::bigint AS base FROM entry_line l
        WHERE l.account IN ('1001', '1230', '7910') GROUP BY 1 ORDER BY 1`,
    ),
  )

describe('payouts out of a balance in dollars', () => {
  let actor: Actor
  beforeAll(async () => {
    actor = await dollarClient('Dollars')
  })
  it('are carried at what they close, the rest realised', async () => {
    expect((await postSettlements(database, actor, [key('A')])).posted).toHaveLength(1)
    // 600 of 1,000 close 552.00 of 920.00; they are worth 528.00: 24.00 lost.
    expect(await inBase(actor)).toEqual([
      { account: '1001', amount: 60_000, base: 52_800 },
      { account: '1230', amount: 40_000, base: 36_800 },
      { account: '7910', amount: 0, base: 2400 },
    ])
  })
  it('leave nothing in base when the balance comes to nothing', async () => {
    await postSettlements(database, actor, [key('B')])
    // 900.00 close 368.00 + 450.00 = 818.00; they are worth 855.00: 37.00 gained, 13.00 over both.
    expect(await inBase(actor)).toEqual([
      { account: '1001', amount: 150_000, base: 138_300 },
      { account: '1230', amount: 0, base: 0 },
      { account: '7910', amount: 0, base: -1300 },
    ])
  })
  it('come to the same posted in one act, by date', async () => {
    const other = await dollarClient('Dollars at once')
    await postSettlements(database, other, [key('B'), key('A')])
    expect(await inBase(other)).toEqual(await inBase(actor))
  })
  it('are taken back as they were booked', async () => {
    await takeBack(database, actor, [key('B'), key('A')])
    for (const { amount, base } of await inBase(actor)) expect([amount, base]).toEqual([0, 0])
    for (const row of (await booksOf(database, actor)).balances) expect(row.totals).toBe(row.lines)
  })
})

describe('what waits in dollars', () => {
  it('is told in base at the newest rate, never added to euro as it stands', async () => {
    const actor = await dollarClient('Dollars waiting')
    const waiting = () =>
      asClient(database, actor, async tx => {
        await countStaleIn(tx, counters)
        return rowsOf(
          tx,
          { stage: is.text, amount: is.minor },
          sql`SELECT stage, amount FROM client_summary WHERE client_id = current_client() AND stage IN ('settlements', 'bank') ORDER BY 1`,
        )
      })
    // 1,000.00 and 500.00 dollars at 0.95.
    expect(await waiting()).toEqual([
      { stage: 'bank', amount: 0 },
      { stage: 'settlements', amount: 142_500 },
    ])
    await postSettlements(database, actor, [key('A')])
    expect(await waiting()).toEqual([
      { stage: 'bank', amount: 57_000 },
      { stage: 'settlements', amount: 47_500 },
    ])
    const page = await asClient(database, actor, tx => loadMapping(tx, 'brookpay'))
    expect(page?.rows.find(row => row.kind === 'sale')?.amount).toBe(142_500)
    await saveRates(database, actor, [{ date: '2026-03-25', from: 'EUR', to: 'USD', rate: '1.25' }])
    expect(await waiting()).toEqual([
      { stage: 'bank', amount: 48_000 },
      { stage: 'settlements', amount: 40_000 },
    ])
  })
  it('has a proof page although nobody has reported a balance', async () => {
    const actor = await dollarClient('Dollars unreported')
    await postSettlements(database, actor, [key('A')])
    const page = await asClient(database, actor, tx => loadProofPage(tx, '1230', { date: null, currency: null }))
    expect(page).toMatchObject({ date: '2026-03-20', ledger: 40_000, reported: null, unexplained: null })
  })
})
