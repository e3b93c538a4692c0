import type { Trace } from '@culvert/contract'
import { afterAll, expect, it } from 'vitest'
import { loadChart } from '../books/loadBooks.ts'
import { loadClearingList } from '../clearing/loadClearing.ts'
import { stateBalance } from '../clearing/stateBalance.ts'
import { type Actor, asClient } from '../database/connect.ts'
import { loadProducts } from '../mapping/productsSeen.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { csvOf, importBankRows, makeClient, makeClientWithWeeks, testDatabase, upload } from '../testing/madeClient.ts'
import { loadTrace } from './loadTrace.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const trace = (actor: Actor, start: Parameters<typeof loadTrace>[1]) =>
  asClient(database, actor, tx => loadTrace(tx, start))
const itemsOf = (found: Trace | null) => found?.steps.flatMap(step => step.items.map(item => [item.title, item.amount]))

it('what was sold of a product is its lines, as many and as much as its page says', async () => {
  const actor = await makeClient(database, 'Products traced')
  const sale = (id: string, sku: string, title: string, amount: string) => ({
    line_id: id,
    settlement_id: 'W-1',
    occurred_at: '2026-03-02T10:00:00Z',
    kind: 'sale',
    currency: 'EUR',
    sku,
    description: title,
    amount,
  })
  await upload(
    database,
    actor,
    csvOf([
      sale('1', 'BOWL-L', 'Large bowl', '45.00'),
      sale('2', 'BOWL-L', 'Large bowl', '48.00'),
      sale('3', 'BOWL-L', 'Chipped bowl', '20.00'),
      sale('4', '', 'Milk jug', '36.00'),
    ]),
  )
  const { products } = await asClient(database, actor, loadProducts)
  expect(products).toHaveLength(3)
  for (const { source, sku, title, amount, lines } of products) {
    const found = await trace(actor, { at: 'product', source, ...(sku && { sku }), ...(title && { title }) })
    expect([found?.amount, found?.steps[0]?.count], title).toEqual([amount, lines])
  }
  const bowls = await trace(actor, { at: 'product', source: 'openhall', sku: 'BOWL-L', title: 'Large bowl' })
  expect(itemsOf(bowls)).toEqual([
    ['2', 4800],
    ['1', 4500],
  ])
  expect(await trace(actor, { at: 'product', source: 'openhall', sku: 'BOWL-L' })).toBeNull()
})

it('what is reported of an account is who said it last up to a day', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Reports traced', 3, 2)
  await postSettlements(database, actor, keys)
  const balance = (at: string, available: string) => ({
    currency: 'EUR',
    at,
    available,
    pending: '1.00',
    reserve: '7.00',
  })
  await upload(database, actor, csvOf([balance('2026-01-11', '10.00'), balance('2026-01-18', '0.00')]), 'balances.csv')
  const [row] = (await asClient(database, actor, loadClearingList)).accounts
  const at = (date: string) => trace(actor, { at: 'reported', account: '1210', currency: 'EUR', date })
  const last = await at('2026-01-18')
  expect([last?.amount, itemsOf(last)]).toEqual([row?.reported, [['Openhall', 100]]])
  expect([(await at('2026-01-17'))?.amount, (await at('2026-01-17'))?.steps[0]?.items[0]?.detail]).toEqual([
    1100,
    'said on 2026-01-11',
  ])
  expect(await at('2026-01-10')).toBeNull()
})

it('what was entered of an account’s balance says so', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Entered and traced', 2, 2)
  await postSettlements(database, actor, keys)
  const stated = { account: '2200', currency: 'EUR' }
  await stateBalance(database, actor, { ...stated, date: '2026-01-31', amount: -12_345 })
  const found = await trace(actor, { at: 'reported', ...stated, date: '2026-02-28' })
  expect([found?.amount, itemsOf(found), found?.steps[0]?.items[0]?.detail]).toEqual([
    -12_345,
    [['Entered on its page', -12_345]],
    'as at 2026-01-31',
  ])
  expect(await trace(actor, { at: 'reported', ...stated, date: '2026-01-30' })).toBeNull()
})

it('a side of the trial balance is its accounts, and a bank’s movement its lines', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Totals traced', 2, 2)
  await postSettlements(database, actor, keys)
  const { accounts } = await asClient(database, actor, tx => loadChart(tx, null))
  const balances = accounts.filter(one => one.baseBalance !== 0)
  for (const [side, sign] of [
    ['debit', 1],
    ['credit', -1],
  ] as const) {
    const found = await trace(actor, { at: 'chart', side })
    const mine = balances.filter(one => one.baseBalance * sign > 0)
    expect(itemsOf(found)?.sort()).toEqual(mine.map(one => [one.code, one.baseBalance * sign]).sort())
    expect(found?.amount).toBe(mine.reduce((sum, one) => sum + one.baseBalance * sign, 0))
  }
  expect((await trace(actor, { at: 'chart', side: 'debit', to: '2000-01-01' }))?.amount).toBe(0)
  expect(await trace(actor, { at: 'bank', account: '1000' })).toBeNull()
  const bankLine = (id: string, date: string, amount: string) => ({
    ...{ line_id: id, bank_account: '1000', date, amount, currency: 'EUR', description: `Line ${id}` },
  })
  await importBankRows(database, actor, [
    bankLine('B1', '2026-01-20', '150.00'),
    bankLine('B2', '2026-01-21', '-12.50'),
  ])
  const bank = await trace(actor, { at: 'bank', account: '1000' })
  expect([bank?.amount, itemsOf(bank)]).toEqual([
    13_750,
    [
      ['Line B1', 15_000],
      ['Line B2', -1250],
    ],
  ])
})
