import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Actor, asClient } from '../database/connect.ts'
import { csvOf, importBankRows, makeClient, testDatabase, upload } from '../testing/madeClient.ts'
import { find } from './find.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())
let actor: Actor
beforeAll(async () => {
  actor = await makeClient(database, 'Found')
  const line = (line_id: string, amount: string, more: object) => ({
    line_id,
    settlement_id: 'OH-7',
    occurred_at: '2026-03-05T10:00:00Z',
    kind: 'sale',
    currency: 'EUR',
    amount,
    order_id: `F-${line_id}`,
    ...more,
  })
  await upload(
    database,
    actor,
    csvOf([
      line('a-1', '1284.00', { customer: 'Odile Fairweather' }),
      line('a-2', '1284.55', { customer: 'ODILE FAIRWEATHER' }),
      line('a-3', '12.84', { customer: 'Fairweather Odile' }),
    ]),
  )
  await importBankRows(database, actor, [
    {
      line_id: 'B-1',
      date: '2026-03-09',
      bank_account: '1000',
      amount: '1284.00',
      currency: 'EUR',
      description: 'OPENHALL 100 % SETTL',
      reference: 'RF-77',
    },
  ])
})
const found = async (text: string) =>
  (await asClient(database, actor, tx => find(tx, text))).map(item => [item.sort, item.title])
const setLocale = (locale: string) =>
  asClient(database, actor, tx =>
    tx.execute(sql`UPDATE client SET locale = ${locale} WHERE client_id = current_client()`),
  )

describe('what is looked for is found', () => {
  it('by an amount, with its cents or without, as the client writes it', async () => {
    expect(await found('1,284.00')).toEqual([
      ['bank_line', 'OPENHALL 100 % SETTL'],
      ['line', 'a-1'],
    ])
    expect(await found('€ 1284')).toEqual([
      ['bank_line', 'OPENHALL 100 % SETTL'],
      ['line', 'a-1'],
      ['line', 'a-2'],
    ])
    expect(await found('−1284.55')).toEqual([['line', 'a-2']])
    await setLocale('de-DE')
    expect(await found('1.284,55')).toEqual([['line', 'a-2']])
    await setLocale('en-IE')
  })
  it('by a customer’s name as it begins, an order, a line, what the bank says, a reference, a day', async () => {
    expect((await found('odile fair')).map(([sort]) => sort)).toEqual(['customer', 'customer'])
    expect(await found('F-a-3')).toEqual([['order', 'Order F-a-3']])
    expect(await found('a-3')).toEqual([['line', 'a-3']])
    expect(await found('100 %')).toEqual([['bank_line', 'OPENHALL 100 % SETTL']])
    expect(await found('100 _')).toEqual([])
    expect(await found('rf-77')).toEqual([['bank_line', 'OPENHALL 100 % SETTL']])
    expect(await found('2026-03-09')).toEqual([
      ['bank_line', 'OPENHALL 100 % SETTL'],
      ['page', 'Entries of 2026-03-09'],
    ])
    expect(await found('OH-7')).toEqual([['settlement', 'OH-7']])
  })
  it('not of what nobody can have meant', async () => {
    expect(await found('   ')).toEqual([])
    expect(await found('0')).toEqual([])
    expect(await found('%')).toEqual([])
  })
})
