import { Readable } from 'node:stream'
import { afterAll, expect, it } from 'vitest'
import { type Actor, asClient } from '../database/connect.ts'
import { loadTaxCodes } from '../setup/loadMap.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'
import { readTaxes } from './taxCodeFile.ts'

const database = testDatabase(2)
afterAll(() => database.$client.end())

const read = (actor: Actor, rows: readonly string[]) =>
  asClient(database, actor, tx =>
    readTaxes(tx, Readable.from([Buffer.from(['code;name;rate;from;account;country;use', ...rows].join('\n'))]), {}),
  )

it('a list of tax codes is held against those that stand, and taken as it is shown', async () => {
  const actor = await makeClient(database, 'Tax codes by list')
  const list = await read(actor, [
    'S23;VAT 23;25;2027-01-01;;;',
    'S9;Reduced;13.5;2020-01-01;2200;IE;sales',
    'S9;Reduced;9;2026-05-14;;;',
    'P;Input;23;;4000;;purchases',
    'Q;Odd;23;;;;sometimes',
  ])
  expect(list.codes.map(one => [one.code.code, one.state, one.rates.map(rate => rate.percent), one.unfit])).toEqual([
    ['S23', 'changed', ['25'], null],
    ['S9', 'new', ['13.5', '9'], null],
    ['P', 'new', ['23'], 'account'],
    ['Q', 'new', ['23'], 'use'],
  ])
  expect(list.vanished).toEqual([])
  await saveTaxCodes(
    database,
    actor,
    list.codes.filter(one => one.unfit === null).map(one => one.code),
  )
  const codes = await asClient(database, actor, loadTaxCodes)
  expect(
    codes.map(code => [
      code.code,
      code.name,
      code.components.map(one => one.rates.map(rate => `${rate.from} ${Number(rate.percent)}`)),
    ]),
  ).toEqual([
    ['S23', 'VAT 23', [['2020-01-01 23', '2027-01-01 25']]],
    ['S9', 'Reduced', [['2020-01-01 13.5', '2026-05-14 9']]],
  ])
  // The same once more changes nothing; another rate without a day would change what was booked.
  const again = await read(actor, ['S23;VAT 23;25;2027-01-01;;;', 'S9;;9;;;;'])
  expect(again.codes.map(one => one.state)).toEqual(['same', 'same'])
  expect((await read(actor, ['S9;;7;;;;'])).codes).toMatchObject([{ state: 'changed', unfit: 'no_day' }])
  expect((await read(actor, ['S9;;9;;;;'])).vanished).toEqual([{ code: 'S23', name: 'VAT 23' }])
})
