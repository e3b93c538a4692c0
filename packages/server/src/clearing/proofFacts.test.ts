import { type ActivityLine, addDays, defaultTiming } from '@culvert/core'
import { madeRoute, madeSetup } from '@culvert/core/testing'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { decidePayments } from '../payments/decidePayments.ts'
import { undoPayments } from '../payments/undoPayments.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { type MadeMonth, storeLines, storeSetup } from '../testing/storedMonth.ts'
import { answerProof, undoProofAnswer } from './answerProof.ts'
import { loadClearingList, loadProofPage } from './loadClearing.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

let next = 0
const line = (date: string, kind: ActivityLine['kind'], amount: number, more: Partial<ActivityLine>): ActivityLine => ({
  lineId: `L${String(++next).padStart(5, '0')}`,
  source: 'stall',
  settlementId: null,
  instant: Date.parse(`${date}T12:00:00Z`),
  occurredAt: `${date}T12:00:00Z`,
  currency: 'EUR',
  status: 'available',
  taxAmount: null,
  kind,
  amount,
  ...{ orderId: null, gateway: null, method: null, category: null, sku: null, description: null, quantity: null },
  ...{ unitPrice: null, location: null, region: null, customer: null, email: null, shipTo: null, taxLabel: null },
  ...{ relatedId: null, availableAt: null, url: null, extra: {} },
  ...more,
})
const routes = [
  madeRoute('sale', '4000'),
  madeRoute('collected', '4010'),
  madeRoute('tender', '12-terminal-EUR', null, { gateway: 'terminal' }),
]
const setup = { ...madeSetup({ routes }), timing: defaultTiming }
const sold = (date: string, order: string, by: string | null): ActivityLine[] => [
  line(date, 'sale', 500, { orderId: order }),
  ...(by === null ? [] : [line(date, 'tender', -500, { orderId: order, gateway: by })]),
]
const books = async (name: string, lines: readonly ActivityLine[], accounts = setup.accounts) => {
  const made: MadeMonth = {
    setup: { ...setup, accounts },
    lines,
    heads: new Map(),
    timeZone: 'Europe/Dublin',
    cutOff: '00:00',
  }
  const actor = await storeSetup(database, name, made)
  await storeLines(database, actor, made)
  const outcome = await postSettlements(database, actor, await settlementKeys(database, actor))
  const prove = (account: string, date: string) =>
    asClient(database, actor, async tx => {
      const page = await loadProofPage(tx, account, { date, currency: null })
      return { outcome: page?.outcome, causes: page?.causes.map(one => one.cause) }
    })
  return { actor, outcome, prove }
}
const days = Array.from({ length: 60 }, (_, day) => addDays('2026-03-02', day))
const terminal = new Map([
  ...setup.accounts,
  ['12-terminal-EUR', { code: '12-terminal-EUR', name: 'Terminal', type: 'clearing' as const, currency: 'EUR' }],
])

describe('what a proof names without an amount', () => {
  it('a day left out, until somebody says that nothing happened, and again once that is withdrawn', async () => {
    const lines = days.filter(day => day !== '2026-04-15').flatMap(day => sold(day, `O-${day}`, 'counterpay'))
    const { actor, prove } = await books('A day left out', lines)
    const missing = { outcome: 'explained', causes: ['missing_day', 'unexplained'] }
    expect(await prove('12-stall-EUR', '2026-04-20')).toEqual(missing)
    const of = { source: 'stall', about: 'day', name: '2026-04-15' } as const
    await answerProof(database, actor, { ...of, reason: 'closed for stocktaking' })
    await answerProof(database, actor, { ...of, reason: 'closed, as said' })
    expect(await prove('12-stall-EUR', '2026-04-20')).toEqual({ outcome: 'closed', causes: ['unexplained'] })
    await undoProofAnswer(database, actor, of)
    expect(await prove('12-stall-EUR', '2026-04-20')).toEqual(missing)
    await expect(undoProofAnswer(database, actor, of)).rejects.toMatchObject({ code: 'nothing_decided' })
    await expect(answerProof(database, actor, { ...of, source: 'nobody', reason: 'none' })).rejects.toMatchObject({
      code: 'source_unknown',
    })
  })
  it('an order whose tender was lost: its collection is blocked, and its own account is not closed after 14 days', async () => {
    const lines = [
      ...sold('2026-03-02', 'A-1', 'counterpay'),
      line('2026-03-03', 'collected', 500, { source: 'counterpay', orderId: 'A-1' }),
      ...sold('2026-03-02', 'A-2', null),
      line('2026-03-04', 'collected', 500, { source: 'counterpay', orderId: 'A-2' }),
      ...sold('2026-03-09', 'A-3', 'counterpay'),
    ]
    const { actor, outcome, prove } = await books('A tender lost', lines)
    expect(outcome.notPosted).toMatchObject([
      {
        key: { source: 'counterpay', key: 'day:2026-03-04' },
        reason: 'blocked',
        blocks: [{ reason: 'order_open', amount: 500, orders: [{ order: 'A-2' }] }],
      },
    ])
    // Decided, it may be booked; withdrawn, the order holds it up again.
    const day = { source: 'counterpay', key: 'day:2026-03-04', currency: 'EUR' }
    const stateOf = () =>
      asClient(database, actor, async tx => {
        const [row] = await rowsOf(
          tx,
          { state: is.text },
          sql`SELECT state FROM settlement WHERE client_id = current_client() AND source = ${day.source} AND key = ${day.key}`,
        )
        return row?.state
      })
    const collection = { source: 'counterpay', lineId: lines[4]?.lineId ?? '' }
    const routed = { of: collection, amount: 500, decision: { as: 'as_routed' as const }, note: '' }
    await decidePayments(database, actor, [routed])
    expect(await stateOf()).toBe('proposed')
    await undoPayments(database, actor, [collection])
    expect(await stateOf()).toBe('blocked')
    expect((await prove('12-stall-EUR', '2026-03-16')).outcome).toBe('closed')
    expect(await prove('12-stall-EUR', '2026-03-17')).toEqual({
      outcome: 'explained',
      causes: ['order_open', 'unexplained'],
    })
    await answerProof(database, actor, {
      source: 'stall',
      about: 'order',
      name: 'A-2',
      reason: 'paid later',
      until: '2026-03-31',
    })
    expect((await prove('12-stall-EUR', '2026-03-31')).outcome).toBe('closed')
    expect((await prove('12-stall-EUR', '2026-04-01')).outcome).toBe('explained')
  })
  it('is not decided to be as its route says where no route says anything', async () => {
    const lines = [
      line('2026-03-04', 'collected', 700, { source: 'counterpay', orderId: 'Z' }),
      ...sold('2026-03-09', 'Y', 'counterpay'),
    ]
    const unrouted = { ...setup, routes: madeSetup({ routes: [madeRoute('sale', '4000')] }).routes }
    const made: MadeMonth = { setup: unrouted, lines, heads: new Map(), timeZone: 'Europe/Dublin', cutOff: '00:00' }
    const actor = await storeSetup(database, 'Without a route', made)
    await storeLines(database, actor, made)
    const of = { source: 'counterpay', lineId: lines[0]?.lineId ?? '' }
    await expect(
      decidePayments(database, actor, [{ of, amount: 700, decision: { as: 'as_routed' }, note: '' }]),
    ).rejects.toMatchObject({ code: 'not_routed' })
  })
  it('a clearing account that no source has is held against nought', async () => {
    const { actor, prove } = await books('A terminal', sold('2026-03-02', 'T-1', 'terminal'), terminal)
    const list = await asClient(database, actor, loadClearingList)
    expect(list.accounts.find(one => one.account === '12-terminal-EUR')).toMatchObject({
      books: 500,
      reported: 0,
      outcome: 'open',
      unexplained: -500,
    })
    expect((await prove('12-terminal-EUR', '2026-03-31')).outcome).toBe('open')
  })
})
