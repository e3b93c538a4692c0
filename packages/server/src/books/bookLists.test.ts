import { Readable } from 'node:stream'
import type { ListQuery } from '@culvert/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Actor, asClient } from '../database/connect.ts'
import { readItems } from '../mapping/itemFile.ts'
import { saveItems } from '../mapping/saveItems.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { readBalances, readRates } from './bookLists.ts'
import { saveRates } from './saveRates.ts'

const database = testDatabase(6)
let actor: Actor
beforeAll(async () => {
  actor = await makeClient(database, 'Lists')
  await saveRates(database, actor, [
    { date: '2026-06-29', from: 'EUR', to: 'USD', rate: '1.08' },
    { date: '2026-06-28', from: 'EUR', to: 'USD', rate: '1.07' },
    { date: '2026-06-01', from: 'EUR', to: 'CAD', rate: '1.5' },
  ])
})
afterAll(() => database.$client.end())

const bodyOf = (text: string | Buffer) => Readable.from([Buffer.from(text as string)])
const rates = (text: string, told: ListQuery = {}) => asClient(database, actor, tx => readRates(tx, bodyOf(text), told))

const xml = (cubes: string, head = '<?xml version="1.0" encoding="UTF-8"?>') => `${head}
<gesmes:Envelope xmlns:gesmes="http://www.gesmes.org/xml/2002-08-01"><gesmes:subject>Reference rates</gesmes:subject><Cube>${cubes}</Cube></gesmes:Envelope>`
const days = `<Cube time='2026-06-30'><Cube currency='USD' rate='1.0832'/></Cube><Cube time='2026-06-29'><Cube currency='USD' rate='1.0800'/><Cube currency='CAD' rate='1.4790'/></Cube>`

describe('a list of exchange rates', () => {
  it('says what is new, changed, as it was and not in it, and stores nothing', async () => {
    const list = await rates(
      'date,from,to,rate\n2026-06-28,EUR,USD,1.075\n2026-06-29,EUR,USD,1.0800\n2026-06-30,EUR,USD,1.09\n',
    )
    expect(list.rates.map(rate => [rate.date, rate.state, rate.was && Number(rate.was)])).toEqual([
      ['2026-06-28', 'changed', 1.07],
      ['2026-06-29', 'same', 1.08],
      ['2026-06-30', 'new', null],
    ])
    expect(list.vanished).toBe(1)
    expect((await rates('date,from,to,rate\n2026-06-30,EUR,USD,1.09\n')).rates[0]?.state).toBe('new')
  })
  it('is a central bank’s reference rates too, by content', async () => {
    const list = await rates(xml(days))
    expect(list.rates.map(rate => [rate.date, rate.to, rate.state])).toEqual([
      ['2026-06-30', 'USD', 'new'],
      ['2026-06-29', 'USD', 'same'],
      ['2026-06-29', 'CAD', 'new'],
    ])
  })
  it.each([
    ['cut off', xml(days).slice(0, -40)],
    ['with entities of its own', xml(days, '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "b">]>')],
    ['of another sort', '<Document><Stmt/></Document>'],
    ['that is no UTF-8', `${xml(days).slice(0, 200)}\xff`],
    ['without the columns', 'a,b\n1,2\n'],
    ['that is empty', ''],
  ])('is refused with its faults where it is %s', async (_, text) => {
    const body = Buffer.from(text, 'latin1')
    await expect(asClient(database, actor, tx => readRates(tx, bodyOf(body), {}))).rejects.toMatchObject({
      name: 'FileRefused',
    })
  })
})

it('reads opening balances, and names accounts that cannot be entered', async () => {
  const list = await asClient(database, actor, tx =>
    readBalances(tx, bodyOf('account;debit;credit\n1000;1.500,00;\n4000;;1.400,00\n9999;;100,00\n'), {}),
  )
  expect(list.balances).toEqual([
    { row: 2, account: '1000', amount: 150_000, unfit: null },
    { row: 3, account: '4000', amount: -140_000, unfit: null },
    { row: 4, account: '9999', amount: -10_000, unfit: 'unknown_account' },
  ])
})

it('reads items, and says which are new, changed and not to be taken', async () => {
  await saveItems(database, actor, [
    {
      code: 'BOWL-1',
      name: 'Bowl',
      otherNames: ['Big bowl'],
      account: '4000',
      taxCode: null,
      costs: [{ from: '2026-01-01', cost: 900 }],
    },
    { code: 'CUP-1', name: 'Cup', otherNames: [], account: '4000', taxCode: null, costs: [] },
  ])
  const list = await asClient(database, actor, tx =>
    readItems(
      tx,
      bodyOf(
        'sku,name,account,cost\nBOWL-1,Bowl,,9.00\nCUP-1,Cup,,4.10\nJUG-1,Jug,4000,7\nPOT-1,Pot,,3\nLID-1,Lid,9999,1\n',
      ),
      {},
    ),
  )
  expect(list.items.map(item => [item.code, item.state, item.unknown])).toEqual([
    ['BOWL-1', 'same', null],
    ['CUP-1', 'changed', null],
    ['JUG-1', 'new', null],
    ['POT-1', 'new', 'no_account'],
    ['LID-1', 'new', 'account'],
  ])
})
