import { sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { countStale } from '../course/countStale.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { loadTieOut } from '../payments/loadTieOut.ts'
import { saveLabels } from '../payments/saveLabels.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { loadSettlement } from '../settlements/loadSettlement.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { counters } from '../stages.ts'
import { addShop, booksOf, csvOf, makeClient, type Row, testDatabase, upload } from '../testing/madeClient.ts'
import { tieOut } from './tieOut.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())
let actor: Actor
beforeEach(async () => {
  actor = await makeClient(database, 'Tied out')
  await addShop(database, actor)
})

const line = (id: string, kind: string, amount: string, more: Row = {}): Row => ({
  line_id: id,
  occurred_at: '2026-03-02T10:00:00Z',
  kind,
  currency: 'EUR',
  amount,
  ...more,
})
/** An order of 24.60 with the tax in it, paid by `gateway`. */
const order = (id: string, gateway = 'brookpay', more: Row = {}): Row[] => [
  line(`${id}-s`, 'sale', '24.60', { order_id: id, ...more }),
  line(`${id}-t`, 'tender', '-24.60', { order_id: id, gateway, ...more }),
]
const collected = (id: string, amount = '24.60', more: Row = {}): Row[] => [
  line(`${id}-c`, 'collected', amount, { order_id: id, settlement_id: 'P-1', ...more }),
  line(`${id}-f`, 'processing_fee', '-0.50', { order_id: id, settlement_id: 'P-1', ...more }),
]
/** Something later, so that the channel is known two days past what is asked about. */
const later = line('later', 'sale', '0.00', { occurred_at: '2026-03-09T10:00:00Z' })
const shop = (rows: readonly Row[], past = true) =>
  upload(database, actor, csvOf(past ? [...rows, later] : rows), 'activity.csv', 'fernstall')
const gateway = (rows: readonly Row[]) => upload(database, actor, csvOf(rows), 'activity.csv', 'brookpay')
const payout: SettlementKey = { source: 'brookpay', key: 'P-1', currency: 'EUR' }
const day: SettlementKey = { source: 'fernstall', key: 'day:2026-03-02', currency: 'EUR' }
const page = (key: SettlementKey) =>
  asClient(database, actor, async tx => {
    const loaded = await loadSettlement(tx, key)
    if (!loaded) throw new Error('no settlement')
    return loaded
  })
const balances = async () =>
  Object.fromEntries(
    (await booksOf(database, actor)).balances
      .filter(row => row.totals !== 0)
      .map(row => {
        expect(row.lines).toBe(row.totals)
        return [row.account, row.totals]
      }),
  )
const post = (...keys: SettlementKey[]) => postSettlements(database, actor, keys)
const lists = () => asClient(database, actor, loadTieOut)

describe('each sale is booked once', () => {
  it('the collection of an order books nothing, whichever side came first', async () => {
    await gateway(collected('F-1'))
    await shop(order('F-1'))
    expect((await post(day, payout)).notPosted).toEqual([])
    expect(await balances()).toEqual({ '1230': 2410, '2200': -460, '4000': -2000, '6010': 50 })
    const { statement } = await page(payout)
    expect(statement.map(row => [row.kind, row.amount, row.matched])).toContainEqual(['collected', 2460, true])
    expect((await lists()).items).toEqual([])
  })
  it('a gateway waits while an order could still come, and says for whom', async () => {
    await shop(order('F-0'), false)
    await gateway(collected('F-1'))
    const before = await page(payout)
    expect(before).toMatchObject({
      state: 'blocked',
      blocks: [{ reason: 'awaits_channel', amount: 2460, awaits: [{ source: 'fernstall', pulledTo: '2026-03-02' }] }],
    })
    expect((await post(payout)).notPosted).toMatchObject([{ reason: 'blocked' }])
    await shop(order('F-1'))
    expect(await page(payout)).toMatchObject({ state: 'proposed', blocks: [], lines: 2, balance: 2410 })
  })
  it('a match found after posting is a correction, and ends at the same balances', async () => {
    await shop([])
    await gateway(collected('F-1'))
    expect((await post(payout)).notPosted).toEqual([])
    await shop(order('F-1'))
    expect(await page(payout)).toMatchObject({ corrections: 1, correctionAmount: -2460 })
    expect(await bookCorrection(database, actor, payout)).toEqual({ ok: true, entries: 1 })
    await post(day)
    expect(await page(payout)).toMatchObject({ corrections: 0, correctionAmount: 0 })
    expect(await balances()).toEqual({ '1230': 2410, '2200': -460, '4000': -2000, '6010': 50 })
  })
  it('a tender that turns out to be paid otherwise ends the match', async () => {
    await gateway(collected('F-1'))
    await shop(order('F-1'))
    await post(day, payout)
    await shop(order('F-1', 'Gift card'))
    expect(await page(payout)).toMatchObject({ corrections: 1, correctionAmount: 2460 })
    expect((await lists()).items).toMatchObject([{ sort: 'collected_without_order', amount: 2460 }])
    expect(await bookCorrection(database, actor, payout)).toMatchObject({ ok: true })
    expect(await bookCorrection(database, actor, day)).toMatchObject({ ok: true })
    expect(await balances()).toEqual({ '1230': 2410, '1290': 2460, '2200': -920, '4000': -4000, '6010': 50 })
  })
  it('running it again changes nothing', async () => {
    await gateway([...collected('F-1'), ...collected('F-2', '10.00')])
    await shop([...order('F-1'), ...order('F-2')])
    const stored = () =>
      asClient(database, actor, tx =>
        rowsOf(
          tx,
          {},
          sql`SELECT collection_line, tender_line, "by", difference, from_pull, to_pull FROM tender_match ORDER BY 1`,
        ),
      )
    const before = await stored()
    expect(before).toMatchObject([
      { collection_line: 'F-1-c', tender_line: 'F-1-t', by: 'order', difference: 0, to_pull: null },
      { collection_line: 'F-2-c', tender_line: 'F-2-t', by: 'order', difference: -1460, to_pull: null },
    ])
    await Promise.all(Array.from({ length: 6 }, () => asClient(database, actor, tx => tieOut(tx))))
    expect(await stored()).toEqual(before)
  })
})

describe('the tie-out page', () => {
  it('lists what is on one side only, and amounts that differ', async () => {
    await gateway([...collected('F-2', '20.00'), ...collected('F-3')])
    await shop([...order('F-1'), ...order('F-2')])
    const { items, matched } = await lists()
    expect(matched).toBe(1)
    expect(items.map(item => [item.sort, item.line.lineId, item.amount])).toEqual([
      ['tender_not_collected', 'F-1-t', 2460],
      ['amount_differs', 'F-2-c', -460],
      ['collected_without_order', 'F-3-c', 2460],
    ])
    await countStale(database, actor, counters)
    expect(
      await asClient(database, actor, tx =>
        rowsOf(
          tx,
          {},
          sql`SELECT waiting, amount FROM client_summary WHERE client_id = current_client() AND stage = 'payments'`,
        ),
      ),
    ).toEqual([{ waiting: 3, amount: 5380 }])
  })
  it('tells labels that no source stands behind; saying which does matches and moves the money', async () => {
    await gateway(collected('F-1'))
    await shop(order('F-1', 'Card'))
    expect((await lists()).labels).toEqual([
      { label: 'Card', channels: ['Fernstall'], source: null, without: [{ currency: 'EUR', count: 1, amount: 2460 }] },
    ])
    await post(day)
    await saveLabels(database, actor, [{ label: 'Card', source: 'brookpay' }])
    expect(await lists()).toMatchObject({ matched: 1, items: [], labels: [{ source: 'brookpay', without: [] }] })
    expect(await page(payout)).toMatchObject({ state: 'proposed' })
    // What is posted stays resolved by the labels that it was booked under.
    expect((await page(day)).entries[0]?.lines).toContainEqual(
      expect.objectContaining({ account: '1290', amount: 2460 }),
    )
  })
})
