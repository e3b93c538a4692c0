import type { PaymentDecision } from '@culvert/contract'
import { nextMonth } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { clearingAccounts } from '../activity/clearingAccounts.ts'
import { importBalances } from '../activity/importBalances.ts'
import { loadProof } from '../clearing/loadProof.ts'
import { setLocked } from '../close/loadClose.ts'
import { countStale } from '../course/countStale.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { counters, monthChecks } from '../stages.ts'
import { brokenInvariants } from '../testing/invariants.ts'
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
import { loadTrace } from '../trace/loadTrace.ts'
import { decidePayments } from './decidePayments.ts'
import { loadTieOut } from './loadTieOut.ts'
import { saveWriteOff } from './saveWriteOff.ts'
import { undoPayments } from './undoPayments.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())
let actor: Actor
beforeEach(async () => {
  actor = await makeClient(database, 'Decided')
  await addShop(database, actor)
  await asClient(database, actor, tx =>
    tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency) VALUES
      (current_client(), '2410', 'Payments to be found', 'current_liability', 'EUR'), (current_client(), '4150', 'Discounts given', 'income', 'EUR')`),
  )
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('discount', { account: '4150', taxCode: 'S23' }),
      madeRoute('refund', { account: '4000', taxCode: 'S23' }),
    ],
    removed: [],
  })
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('collected', { account: '2410', source: 'brookpay' }),
      madeRoute('collected_back', { account: '2410' }),
    ],
    removed: [],
  })
  await saveWriteOff(database, actor, { upTo: 500, from: null })
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
  line(`${id}-t`, 'tender', '-24.60', day, { order_id: id, gateway: 'brookpay', ...more }),
]
const took = (id: string, day: string, amount = '24.60', more: Row = {}): Row =>
  line(`${id}-c`, 'collected', amount, day, { order_id: id, ...more })
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
  const held = rows.reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), 0)
  await asClient(database, actor, tx =>
    importBalances(
      tx,
      'brookpay',
      ['2026-03-28', '2099-12-31'].map(date => ({ currency: 'EUR', date, available: held, pending: 0, reserve: 0 })),
    ),
  )
}
const payoutDay = async () => {
  const found = (await settlementKeys(database, actor)).find(key => key.source === 'brookpay')
  if (!found) throw new Error('no settlement')
  return found
}
const post = async () => postSettlements(database, actor, await settlementKeys(database, actor))
const page = () => asClient(database, actor, loadTieOut)
const open = async () => (await page()).items.map(item => [item.decide.lineId, item.amount])
const standing = async () => (await page()).decided.map(one => [one.line.lineId, one.decision, one.holds])
/** The proof of the gateway once all that was ever dated is past. */
const proved = () =>
  asClient(database, actor, async tx => {
    const clearing = (await clearingAccounts(tx)).find(one => one.account === '1230')
    const proof = clearing && (await loadProof(tx, clearing, '2099-12-31'))
    if (!proof) throw new Error('no proof')
    return { outcome: proof.outcome, ...Object.fromEntries(proof.causes.map(({ cause, amount }) => [cause, amount])) }
  })
const balanceOf = async (account: string): Promise<number> =>
  (
    await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { balance: is.minor },
        sql`SELECT coalesce(sum(amount), 0)::bigint AS balance FROM entry_line WHERE client_id = current_client() AND account = ${account}`,
      ),
    )
  )[0]?.balance ?? 0
const waiting = async () => {
  await countStale(database, actor, counters)
  const [row] = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { waiting: is.whole, amount: is.minor },
      sql`SELECT waiting, amount FROM client_summary WHERE client_id = current_client() AND stage = 'payments'`,
    ),
  )
  return [row?.waiting, row?.amount]
}
const said = (lineId: string, amount: number, decision: PaymentDecision, note = '') => ({
  of: { source: lineId.endsWith('-c') ? 'brookpay' : 'fernstall', lineId },
  amount,
  decision,
  note,
})
const decide = (...decisions: ReturnType<typeof said>[]) => decidePayments(database, actor, decisions)
const undo = (...lines: string[]) =>
  undoPayments(
    database,
    actor,
    lines.map(lineId => said(lineId, 0, { as: 'as_routed' }).of),
  )

describe('what is collected of an order, otherwise than it says', () => {
  it('is a price reduction within the limit, taxed like a discount of its order, and the proof closes without it', async () => {
    await gateway([took('F-1', '04', '22.60'), took('F-2', '04', '10.00')])
    await shop([...order('F-1', '02'), ...order('F-2', '02')])
    await post()
    expect(await open()).toEqual([
      ['F-1-c', -200],
      ['F-2-c', -1460],
    ])
    const { items } = await page()
    expect(items.map(item => item.acts)).toEqual([
      ['price_reduction', 'written_off', 'waits', 'set_aside'],
      ['waits', 'set_aside'],
    ])
    expect(items.map(item => item.proposed)).toEqual([{ as: 'price_reduction' }, null])
    expect(await proved()).toMatchObject({ outcome: 'closed', unpaid_orders: -1660, unexplained: 0 })
    const tax = await balanceOf('2200')
    await decide(said('F-1-c', -200, { as: 'price_reduction' }))
    expect([await balanceOf('4150'), (await balanceOf('2200')) - tax]).toEqual([163, 37])
    expect(await open()).toEqual([['F-2-c', -1460]])
    expect(await waiting()).toEqual([1, 1460])
    expect(await proved()).toMatchObject({ outcome: 'closed', unpaid_orders: -1460, unexplained: 0 })
    await expect(decide(said('F-2-c', -1460, { as: 'written_off', account: '6000' }))).rejects.toThrow(
      'more than may be',
    )
    await undo('F-1-c')
    expect([await balanceOf('4150'), await balanceOf('2200')]).toEqual([0, tax])
    expect(await open()).toHaveLength(2)
    expect(await proved()).toMatchObject({ outcome: 'closed', unpaid_orders: -1660, unexplained: 0 })
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('decided, and another amount since, is to be mended: the proof is not closed until it is taken back', async () => {
    await gateway([took('F-1', '04', '22.60')])
    await shop(order('F-1', '02'))
    await post()
    await decide(said('F-1-c', -200, { as: 'written_off', account: '6000' }))
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0 })
    // The two euros came after all.
    await gateway([took('F-1', '04')])
    expect(await standing()).toEqual([['F-1-c', 'written_off', false]])
    expect(await waiting()).toEqual([1, 200])
    expect(await proved()).toMatchObject({ outcome: 'explained', correction: 200, unexplained: 0 })
    await undo('F-1-c')
    expect(await waiting()).toEqual([0, 0])
    expect(await bookCorrection(database, actor, await payoutDay())).toMatchObject({ ok: true })
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0 })
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('attached to what is not quite its amount: the rest is decided by itself, and each comes apart', async () => {
    await gateway([took('F-13', '05', '22.60')])
    await shop(order('F-31', '04'))
    await post()
    await decide(said('F-31-t', 2460, { as: 'attached', to: { source: 'brookpay', lineId: 'F-13-c' } }))
    expect(await bookCorrection(database, actor, await payoutDay())).toMatchObject({ ok: true })
    // Attaching hides nothing of it: what the two differ by is listed.
    expect(await open()).toEqual([['F-13-c', -200]])
    expect(await proved()).toMatchObject({ outcome: 'closed', unpaid_orders: -200, unexplained: 0 })
    await decide(said('F-13-c', -200, { as: 'price_reduction' }))
    expect(await open()).toEqual([])
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0 })
    expect((await proved()) as object).not.toHaveProperty('unpaid_orders')
    await undo('F-13-c')
    expect(await standing()).toEqual([['F-31-t', 'attached', true]])
    await decide(said('F-13-c', -200, { as: 'price_reduction' }))
    // The tie alone comes apart: what was decided of the difference does not hold any more.
    await undo('F-31-t')
    expect(await standing()).toEqual([['F-13-c', 'price_reduction', false]])
    expect((await proved()).outcome).toBe('explained')
    await undo('F-13-c')
    expect(await bookCorrection(database, actor, await payoutDay())).toMatchObject({ ok: true })
    expect(await proved()).toMatchObject({ outcome: 'closed', unpaid_orders: -2460, unexplained: 0 })
    expect(await brokenInvariants(database, actor)).toEqual([])
  })
})

describe('a payment that is on one side only', () => {
  it('is attached across order ids: the collection books nothing, whether posted or not, and comes apart again', async () => {
    await gateway([took('F-13', '05', '24.60', { customer: 'A. Marchbank' })])
    await shop(order('F-31', '04', { customer: 'MARCHBANK A' }))
    await post()
    const before = await balanceOf('2410')
    expect(before).toBe(-2460)
    const { items } = await page()
    expect(items.map(item => item.proposed)).toEqual([
      { as: 'attached', to: { source: 'brookpay', lineId: 'F-13-c' } },
      { as: 'attached', to: { source: 'fernstall', lineId: 'F-31-t' } },
    ])
    // From the side of the collection: it is named by its tender all the same.
    await decide(said('F-13-c', 2460, { as: 'attached', to: { source: 'fernstall', lineId: 'F-31-t' } }))
    expect(await standing()).toEqual([['F-31-t', 'attached', true]])
    expect(await waiting()).toEqual([0, 0])
    expect(await proved()).toMatchObject({ outcome: 'explained', correction: -2460, unexplained: 0 })
    const payout = await payoutDay()
    expect(await bookCorrection(database, actor, payout)).toMatchObject({ ok: true })
    expect(await balanceOf('2410')).toBe(0)
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0 })
    await undo('F-31-t')
    expect(await open()).toHaveLength(2)
    expect(await bookCorrection(database, actor, payout)).toMatchObject({ ok: true })
    expect(await balanceOf('2410')).toBe(before)
    expect(await proved()).toMatchObject({ outcome: 'closed', unpaid_orders: -2460, unexplained: 0 })
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is not attached to what is none of its other side', async () => {
    await gateway([took('F-1', '04')])
    await shop([...order('F-2', '04'), ...order('F-3', '04')])
    await post()
    const to = { source: 'fernstall', lineId: 'F-3-t' }
    await expect(decide(said('F-2-t', 2460, { as: 'attached', to }))).rejects.toThrow('not of the same gateway')
    const far = { source: 'brookpay', lineId: 'F-1-c' }
    await expect(
      decide(said('F-2-t', 2460, { as: 'attached', to: far }), said('F-3-t', 2460, { as: 'attached', to: far })),
    ).rejects.toThrow('in two of these')
    expect(await standing()).toEqual([])
  })

  it('of a test of one’s own, the order is undone with its tax; a gift is a cost', async () => {
    await gateway([line('x', 'processing_fee', '-0.50', '03')])
    await shop([...order('F-1', '02'), ...order('F-2', '02')])
    await post()
    expect([await balanceOf('4000'), await balanceOf('2200')]).toEqual([-4000, -920])
    const done = await decide(
      said('F-1-t', 2460, { as: 'own_test', account: null }),
      said('F-2-t', 2460, { as: 'gift', account: '6000' }),
    )
    expect([await balanceOf('4000'), await balanceOf('2200'), await balanceOf('6000')]).toEqual([-2000, -460, 2460])
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0 })
    expect((await proved()) as object).not.toHaveProperty('unpaid_orders')
    expect(done.entries).toHaveLength(2)
    // A figure of it leads back to the tender.
    const [entry] = done.entries
    const trace = await asClient(database, actor, tx =>
      loadTrace(tx, { at: 'entry', entry: `${entry?.fiscalYear}-${entry?.number}` }),
    )
    expect(JSON.stringify(trace)).toContain('line:fernstall/F-1-t')
    await undo('F-1-t', 'F-2-t')
    expect([await balanceOf('4000'), await balanceOf('6000')]).toEqual([-4000, 0])
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('that no order explains is a sale with its tax, or what its route says, or waits', async () => {
    await gateway([took('D-1', '04'), took('D-2', '04'), took('D-3', '04', '5.00')])
    await shop([])
    await post()
    const tax = await balanceOf('2200')
    await decide(
      said('D-1-c', 2460, { as: 'sale', account: '4000', taxCode: 'S23' }),
      said('D-2-c', 2460, { as: 'as_routed' }),
      said('D-3-c', 500, { as: 'waits', until: '2099-01-01' }),
    )
    expect([await balanceOf('2410'), await balanceOf('4000'), (await balanceOf('2200')) - tax]).toEqual([
      -2960, -2000, -460,
    ])
    expect(await waiting()).toEqual([0, 0])
    expect(await standing()).toEqual([
      ['D-1-c', 'sale', true],
      ['D-2-c', 'as_routed', true],
      ['D-3-c', 'waits', true],
    ])
    expect(await proved()).toMatchObject({ outcome: 'closed', unexplained: 0 })
    // Once it has waited long enough it is open again, and what is decided then takes its place.
    await asClient(database, actor, tx =>
      tx.execute(
        sql`UPDATE payment_decision SET "until" = '2026-04-01' WHERE client_id = current_client() AND decision = 'waits'`,
      ),
    )
    expect(await open()).toEqual([['D-3-c', 500]])
    await decide(said('D-3-c', 500, { as: 'set_aside' }, 'the till slip is lost'))
    expect(await standing()).toContainEqual(['D-3-c', 'set_aside', true])
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is decided once, by whoever is first, all of an act or nothing of it', async () => {
    await gateway([line('x', 'processing_fee', '-0.50', '03')])
    await shop([...order('F-1', '02'), ...order('F-2', '02')])
    await post()
    const gift = said('F-1-t', 2460, { as: 'gift', account: '6000' })
    const outcomes = await Promise.allSettled([decide(gift), decide(gift), decide(gift)])
    expect(outcomes.filter(one => one.status === 'fulfilled')).toHaveLength(1)
    expect(await balanceOf('6000')).toBe(2460)
    await expect(decide(said('F-2-t', 2460, { as: 'gift', account: '6000' }), gift)).rejects.toThrow(
      'decided meanwhile',
    )
    await expect(decide(said('F-2-t', 2400, { as: 'gift', account: '6000' }))).rejects.toThrow('another amount')
    await expect(decide(said('F-2-t', 2460, { as: 'gift', account: '1230' }))).rejects.toThrow('no account for this')
    await expect(decide(said('F-2-t', 2460, { as: 'set_aside' }))).rejects.toThrow('why it is set aside')
    await expect(decide(said('F-2-t', 2460, { as: 'sale', account: '4000', taxCode: null }))).rejects.toThrow(
      'cannot be decided',
    )
    expect(await balanceOf('6000')).toBe(2460)
    expect(await undo('F-1-t')).toEqual({ undone: 1, reversals: 1 })
    await expect(undo('F-1-t')).rejects.toThrow('Nothing stands decided')
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is booked once its settlement is posted, not into a locked month, and never twice', async () => {
    await gateway([line('x', 'processing_fee', '-0.50', '03')])
    await shop(order('F-1', '02'))
    const gift = said('F-1-t', 2460, { as: 'gift', account: '6000' })
    await expect(decide(gift)).rejects.toThrow('cannot be booked yet')
    await post()
    const today = (await page()).today.slice(0, 7)
    for (let month = '2026-03'; month <= today; month = nextMonth(month))
      await setLocked(database, actor, { month, locked: true, reason: 'tried' }, monthChecks)
    const { entries } = await decide(gift)
    expect(entries[0]?.date.slice(0, 7)).not.toBe(today)
    expect(entries[0]?.date.slice(8)).toBe('01')
    // Its settlement is taken back under it: what was decided does not hold, and the proof says that it is to be mended.
    await takeBack(
      database,
      actor,
      (await settlementKeys(database, actor)).filter(key => key.source === 'fernstall'),
    )
    expect((await proved()).outcome).not.toBe('closed')
    await undo('F-1-t')
    expect(await balanceOf('6000')).toBe(0)
    expect(await brokenInvariants(database, actor)).toEqual([])
  })
})

it('a limit that somebody else changed is not overwritten', async () => {
  await expect(saveWriteOff(database, actor, { upTo: 900, from: null })).rejects.toThrow('changed the limit')
  expect((await page()).writeOffUpTo).toBe(500)
})
