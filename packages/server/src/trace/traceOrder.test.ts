import { afterAll, expect, it } from 'vitest'
import { asClient } from '../database/connect.ts'
import { addShop, csvOf, makeClient, testDatabase, upload } from '../testing/madeClient.ts'
import { loadTrace } from './loadTrace.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

it('an order shows both sides, its refund and what came later, each in its own settlement', async () => {
  const actor = await makeClient(database, 'Order traced')
  await addShop(database, actor)
  const line = (id: string, kind: string, amount: string, more: Record<string, string> = {}) => ({
    line_id: id,
    occurred_at: '2026-03-02T10:00:00Z',
    kind,
    currency: 'EUR',
    amount,
    customer: '',
    ...more,
  })
  const back = { order_id: 'A', occurred_at: '2026-03-06T10:00:00Z' }
  const shop = [
    line('A-s', 'sale', '24.60', { order_id: 'A' }),
    line('A-t', 'tender', '-24.60', { order_id: 'A', gateway: 'brookpay' }),
    line('A-r', 'refund', '-24.60', back),
    line('A-b', 'tender_returned', '24.60', { ...back, gateway: 'brookpay' }),
    line('B-s', 'sale', '1.00', { order_id: 'B' }),
    line('C-t', 'tender', '-7.00', { order_id: 'C', gateway: 'brookpay', customer: 'Una Reddy' }),
  ]
  const gateway = [
    // Names no order of the shop's, only the line it was taken for.
    line('G-1', 'collected', '24.60', { order_id: 'A', settlement_id: 'P-1' }),
    line('G-2', 'collected_back', '-24.60', { ...back, settlement_id: 'P-2' }),
    line('G-3', 'collected', '7.00', { order_id: 'own-9', customer: 'REDDY UNA', settlement_id: 'P-2' }),
  ]
  await upload(database, actor, csvOf(shop), 'activity.csv', 'fernstall')
  await upload(database, actor, csvOf(gateway), 'activity.csv', 'brookpay')
  const trace = (order: string) => asClient(database, actor, tx => loadTrace(tx, { at: 'order', order }))
  const found = await trace('A')
  expect(found).toMatchObject({ title: 'Order A', amount: 0, currency: 'EUR' })
  const steps = (found?.steps ?? []).slice(1).map(step => ({
    link: step.link,
    amount: step.amount,
    lines: step.items.map(item => item.title),
  }))
  expect(steps).toHaveLength(4)
  expect(steps).toEqual(
    expect.arrayContaining([
      { link: '/settlements/fernstall/day%3A2026-03-02/EUR', amount: 0, lines: ['A-s', 'A-t'] },
      { link: '/settlements/fernstall/day%3A2026-03-06/EUR', amount: 0, lines: ['A-b', 'A-r'] },
      { link: '/settlements/brookpay/P-1/EUR', amount: 2460, lines: ['G-1'] },
      { link: '/settlements/brookpay/P-2/EUR', amount: -2460, lines: ['G-2'] },
    ]),
  )
  // The gateway has a number of its own and writes the name the other way round; the trace says what ties the two.
  expect((await trace('own-9'))?.steps.flatMap(step => step.items.map(item => item.detail))).toEqual([
    '2026-03-02 · Collected · the same money as a tender, by amount, day and customer · REDDY UNA',
    '2026-03-02 · Tender',
  ])
  // All of B is in one day: its path from order to entry tells more.
  expect((await trace('B'))?.steps.slice(0, 4).map(step => step.sort)).toEqual(['order', 'line', 'route', 'entry'])
})
