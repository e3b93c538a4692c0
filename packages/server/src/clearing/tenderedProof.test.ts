import { defaultOptions } from '@culvert/core'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { clearingAccounts } from '../activity/clearingAccounts.ts'
import { importBalances } from '../activity/importBalances.ts'
import { postOpening } from '../books/openingBalances.ts'
import { type Actor, asClient } from '../database/connect.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { loadTieOut } from '../payments/loadTieOut.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { saveOptions } from '../sources/sourceOptions.ts'
import {
  addShop,
  csvOf,
  madeRoute,
  makeClient,
  type Row,
  settlementKeys,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { balanceAccounts } from './balanceAccounts.ts'
import { proveBalance } from './balanceProof.ts'
import { loadProofPage } from './loadClearing.ts'
import { loadProof } from './loadProof.ts'
import { stateBalance } from './stateBalance.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())
let actor: Actor
beforeEach(async () => {
  actor = await makeClient(database, 'Proved with tenders')
  await addShop(database, actor)
})

const line = (id: string, kind: string, amount: string, day: string, more: Row = {}): Row => ({
  line_id: id,
  occurred_at: `2026-03-${day}T10:00:00Z`,
  kind,
  currency: 'EUR',
  amount,
  ...more,
})
const order = (id: string, day: string, more: Row = {}): Row[] => [
  line(`${id}-s`, 'sale', '24.60', day, { order_id: id, ...more }),
  line(`${id}-t`, 'tender', '-24.60', day, { order_id: id, gateway: 'brookpay' }),
]
const collected = (id: string, day: string, amount = '24.60'): Row[] => [
  line(`${id}-c`, 'collected', amount, day, { order_id: id }),
  line(`${id}-f`, 'processing_fee', '-0.50', day, { order_id: id }),
]
const shop = (rows: readonly Row[]) =>
  upload(
    database,
    actor,
    csvOf([...rows, line('later', 'sale', '0.00', '28', { order_id: 'later' })]),
    'activity.csv',
    'fernstall',
  )
const gateway = async (rows: readonly Row[]) => {
  await upload(database, actor, csvOf(rows), 'activity.csv', 'brookpay')
  // What it holds at the end of each day, from nothing but its own lines.
  const days = Array.from({ length: 27 }, (_, day) => `2026-03-${String(day + 1).padStart(2, '0')}`)
  const held = (day: string) =>
    rows
      .filter(row => (row.occurred_at ?? '').slice(0, 10) <= day)
      .reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), 0)
  await asClient(database, actor, tx =>
    importBalances(
      tx,
      'brookpay',
      days.map(date => ({ currency: 'EUR', date, available: held(date), pending: 0, reserve: 0 })),
    ),
  )
}
const prove = (account: string, date: string) =>
  asClient(database, actor, async tx => {
    const clearing = (await clearingAccounts(tx)).find(one => one.account === account)
    const proof = clearing && (await loadProof(tx, clearing, date))
    if (!proof) throw new Error('no proof')
    return Object.fromEntries(proof.causes.map(({ cause, amount }) => [cause, amount]))
  })
const closedEveryDay = async (what: string) => {
  for (const account of ['1220', '1230'])
    for (const day of ['01', '02', '03', '04', '05', '06', '10', '27'])
      expect(await prove(account, `2026-03-${day}`), `${account} on ${day}, ${what}`).toMatchObject({ unexplained: 0 })
}
const post = async (source?: string) =>
  postSettlements(
    database,
    actor,
    (await settlementKeys(database, actor)).filter(key => source === undefined || key.source === source),
  )

describe('the proof of a gateway and of the orders that it collects for', () => {
  it('is closed every day, whatever of both is posted, and names what only one side knows', async () => {
    await gateway([
      ...collected('F-1', '04'),
      ...collected('F-2', '03', '20.00'),
      ...collected('D-9', '05'),
      line('p', 'payout', '-40.00', '06'),
    ])
    await shop([
      ...order('F-1', '02'),
      ...order('F-2', '03'),
      ...order('F-3', '03'),
      line('F-4-s', 'sale', '10.00', '04', { order_id: 'F-4' }),
    ])
    await closedEveryDay('nothing posted')
    await post('fernstall')
    await closedEveryDay('the channel posted')
    await post()
    await closedEveryDay('all posted')
    // F-3 was never collected, F-2 short of 4.60; F-4 never paid for.
    expect(await prove('1230', '2026-03-27')).toEqual({ unpaid_orders: -2920, unexplained: 0 })
    expect(await prove('1220', '2026-03-27')).toEqual({ order_open: 0, unexplained: 0 })
    const orders = await asClient(database, actor, tx =>
      loadProofPage(tx, '1220', { date: '2026-03-27', currency: null }),
    )
    expect(orders).toMatchObject({ outcome: 'explained', reported: 1000, openOrders: { total: 1 } })
    expect(orders?.openOrders.orders).toMatchObject([
      { name: 'F-4', amount: 1000, ref: { of: 'order', source: 'fernstall', order: 'F-4' } },
    ])
    // F-1 was tendered on the 2nd and collected on the 4th: till then the books are ahead.
    expect(await prove('1230', '2026-03-02')).toMatchObject({ after_cut_off: -2460 })
  })
  it('stays closed over a first day of both, with orders that were paid before it and collected after', async () => {
    await shop([...order('F-1', '02'), ...order('F-2', '03'), ...order('F-3', '02'), ...order('F-4', '05')])
    await gateway([
      ...collected('F-1', '04'),
      ...collected('F-2', '03'),
      ...collected('F-3', '06'),
      ...collected('F-4', '05'),
    ])
    for (const source of ['fernstall', 'brookpay'])
      await saveOptions(database, actor, {
        source,
        options: { ...defaultOptions, detail: [], bookedFrom: '2026-03-04' },
      })
    // The processor held what F-2 left; F-1 and F-3 were tendered by then, and the former books had them on its account.
    await postOpening(database, actor, {
      date: '2026-03-03',
      lines: [
        { account: '1230', amount: 2410 + 2 * 2460 },
        { account: '2200', amount: -(2410 + 2 * 2460) },
      ],
    })
    expect(await prove('1230', '2026-03-03')).toEqual({ after_cut_off: -4920, unexplained: 0 })
    await post()
    for (const account of ['1220', '1230'])
      for (const day of ['03', '04', '05', '06', '10', '27'])
        expect(await prove(account, `2026-03-${day}`), `${account} on ${day}`).toMatchObject({ unexplained: 0 })
    expect(await prove('1230', '2026-03-27')).toEqual({ unexplained: 0 })
  })
  it('is closed while a match waits as a correction, and once that is booked', async () => {
    await shop([])
    await gateway([...collected('F-1', '04')])
    await post()
    await shop(order('F-1', '02'))
    expect(await prove('1230', '2026-03-27')).toMatchObject({ correction: -2460, unposted: 2460 })
    await closedEveryDay('matched after posting')
    await post()
    await closedEveryDay('its order posted')
    await bookCorrection(database, actor, { source: 'brookpay', key: 'day:2026-03-04', currency: 'EUR' })
    await closedEveryDay('corrected')
  })
  it('counts orders that are invoiced elsewhere', async () => {
    await saveRoutes(database, actor, {
      changed: [
        madeRoute('sale', { category: 'Wholesale', elsewhere: true }),
        madeRoute('collected', { method: 'transfer', elsewhere: true }),
      ],
      removed: [],
    })
    await gateway([
      ...collected('F-1', '04'),
      line('W-1-c', 'collected', '300.00', '05', { order_id: 'W-1', method: 'transfer' }),
    ])
    await shop([
      ...order('F-1', '02'),
      line('W-2-s', 'sale', '99.00', '02', { order_id: 'W-2', category: 'Wholesale' }),
    ])
    await closedEveryDay('nothing posted')
    await post()
    await closedEveryDay('posted')
    expect(await prove('1230', '2026-03-27')).toEqual({ elsewhere: 30_000, unexplained: 0 })
    expect(await asClient(database, actor, loadTieOut)).toMatchObject({
      items: [],
      elsewhere: [{ currency: 'EUR', count: 1, amount: 30_000 }],
    })
    // The shop leaves the wholesale order open, and books it nowhere.
    expect(await prove('1220', '2026-03-27')).toEqual({ elsewhere: 9900, unexplained: 0 })
  })
})

describe('accounts that hold or owe something', () => {
  const proved = (account: string, date: string) =>
    asClient(database, actor, async tx => {
      const of = (await balanceAccounts(tx)).find(one => one.account === account)
      const proof = of && (await proveBalance(tx, of, date))
      return proof && Object.fromEntries(proof.causes.map(({ cause, amount }) => [cause, amount]))
    })
  const state = (account: string, date: string, amount: number | null) =>
    stateBalance(database, actor, { account, currency: 'EUR', date, amount })
  it('are proved against what was stated of them: gift cards and tax', async () => {
    await shop([
      ...order('F-1', '02'),
      line('g1', 'gift_card_sold', '50.00', '02', { order_id: 'F-1' }),
      line('g2', 'gift_card_redeemed', '-20.00', '05', { order_id: 'F-5' }),
    ])
    await postSettlements(database, actor, [{ source: 'fernstall', key: 'day:2026-03-02', currency: 'EUR' }])
    expect(await proved('2300', '2026-03-27')).toBeNull()
    await state('2300', '2026-03-04', -5000)
    await state('2300', '2026-03-27', -3000)
    await state('2200', '2026-03-27', -460)
    expect(await proved('2300', '2026-03-04')).toEqual({ unexplained: 0 })
    expect(await proved('2300', '2026-03-27')).toEqual({ unposted: 2000, unexplained: 0 })
    expect(await proved('2200', '2026-03-27')).toEqual({ unexplained: 0 })
    await post()
    expect(await proved('2300', '2026-03-27')).toEqual({ unexplained: 0 })
    // A price that changed after posting waits as a correction of the tax as well: 12.30 more hold 2.30.
    await shop([
      ...order('F-1', '02').map(row => (row.kind === 'sale' ? { ...row, amount: '36.90' } : row)),
      line('g1', 'gift_card_sold', '50.00', '02', { order_id: 'F-1' }),
      line('g2', 'gift_card_redeemed', '-20.00', '05', { order_id: 'F-5' }),
    ])
    expect(await proved('2200', '2026-03-27')).toEqual({ correction: -230, unexplained: 230 })
    await state('2200', '2026-03-27', null)
    expect(await proved('2200', '2026-03-27')).toBeNull()
    await expect(state('1000', '2026-03-27', 5)).rejects.toThrow('could be stated')
  })
})

describe('leads', () => {
  it('name lines and entries of exactly what is unexplained, and open them', async () => {
    await gateway([...collected('F-1', '04'), ...collected('F-2', '05', '31.90')])
    await shop([
      ...order('F-1', '02'),
      ...order('F-2', '05').map(row => ({ ...row, amount: row.kind === 'sale' ? '31.90' : '-31.90' })),
    ])
    await post()
    const page = (date: string) => asClient(database, actor, tx => loadProofPage(tx, '1230', { date, currency: null }))
    expect(await page('2026-03-27')).toMatchObject({ unexplained: 0, leads: [] })
    await asClient(database, actor, tx =>
      importBalances(tx, 'brookpay', [
        { currency: 'EUR', date: '2026-03-27', available: 5550 - 3190, pending: 0, reserve: 0 },
      ]),
    )
    const wrong = await page('2026-03-27')
    expect(wrong?.unexplained).toBe(-3190)
    expect(wrong?.leads[0]).toMatchObject({ sort: 'single' })
    expect(wrong?.leads.flatMap(lead => lead.movements.map(one => one.name))).toContain('line F-2-c of F-2')
    expect(wrong?.leads.every(lead => lead.movements.every(one => one.ref !== undefined))).toBe(true)
  })
})
