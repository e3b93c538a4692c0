import { taxRowBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { setLocked } from '../close/loadClose.ts'
import { countStale } from '../course/countStale.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { saveTaxRows } from '../mapping/saveTaxRows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { counters, monthChecks } from '../stages.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import { csvOf, madeRoute, makeClient, type Row, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'
import { loadTrace } from '../trace/loadTrace.ts'
import { decideDispute, undoDispute } from './decideDispute.ts'
import { loadDisputesPage } from './disputes.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

const line = (id: string, kind: string, amount: string, at: string, more: Row = {}): Row => ({
  line_id: id,
  settlement_id: at < '2026-02' ? 'W-1' : 'W-2',
  occurred_at: `${at}T10:00:00Z`,
  kind,
  order_id: 'A',
  region: 'IE',
  currency: 'EUR',
  amount,
  ...more,
})

const disputed = async (name: string, more: readonly Row[] = []) => {
  const actor = await makeClient(database, name)
  await asClient(database, actor, tx =>
    tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency) VALUES
      (current_client(), '1320', 'Disputed payments', 'current_asset', 'EUR'), (current_client(), '4200', 'Sales returns', 'income', 'EUR')`),
  )
  await saveTaxRows(database, actor, { rows: [taxRowBody.parse({ code: 'S23' })], classes: [], byRows: true })
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('refund', { account: '4200' }),
      madeRoute('chargeback', { account: '1320' }),
      madeRoute('chargeback_reversal', { account: '1320' }),
    ],
    removed: [],
  })
  await upload(
    database,
    actor,
    csvOf([
      line('S', 'sale', '123.00', '2026-01-06'),
      line('P1', 'payout', '-123.00', '2026-01-09', { order_id: '' }),
      line('C', 'chargeback', '-123.00', '2026-02-03'),
      line('F', 'sale', '300.00', '2026-02-04', { order_id: 'B' }),
      ...more,
    ]),
  )
  await postSettlements(database, actor, await settlementKeys(database, actor))
  return actor
}
const stateOf = async (actor: Actor) => {
  const { disputes } = await asClient(database, actor, loadDisputesPage)
  return disputes.map(one => [one.state, one.left, one.account, one.sale?.lineId ?? null])
}
const balanceOf = async (actor: Actor, account: string): Promise<number> =>
  (
    await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { balance: is.minor },
        sql`SELECT coalesce(sum(amount), 0)::bigint AS balance FROM entry_line WHERE client_id = current_client() AND account = ${account}`,
      ),
    )
  )[0]?.balance ?? 0
const waiting = async (actor: Actor) => {
  await countStale(database, actor, counters)
  return asClient(database, actor, tx =>
    rowsOf(
      tx,
      {},
      sql`SELECT waiting, amount FROM client_summary WHERE client_id = current_client() AND stage = 'payments'`,
    ),
  )
}
const of = { source: 'openhall', lineId: 'C' }

describe('a payment that a buyer’s bank took back', () => {
  it('waits to be decided, is credited like a refund of its sale, and disputed again when that is taken back', async () => {
    const actor = await disputed('Disputed')
    expect(await stateOf(actor)).toEqual([['open', -12_300, '1320', 'S']])
    expect(await waiting(actor)).toEqual([{ waiting: 1, amount: 12_300 }])
    const tax = await balanceOf(actor, '2200')
    await expect(
      decideDispute(database, actor, { ...of, date: '2026-02-01', note: '', decision: { as: 'credited' } }),
    ).rejects.toThrow('cannot be decided before')
    // Twice at once: one entry.
    const decide = () =>
      decideDispute(database, actor, { ...of, date: '2026-03-02', note: 'lost', decision: { as: 'credited' } })
    const outcomes = await Promise.allSettled([decide(), decide(), decide()])
    expect(outcomes.filter(one => one.status === 'fulfilled')).toHaveLength(1)
    expect(await stateOf(actor)).toEqual([['credited', 0, '1320', 'S']])
    expect([
      await balanceOf(actor, '1320'),
      await balanceOf(actor, '4200'),
      (await balanceOf(actor, '2200')) - tax,
    ]).toEqual([0, 10_000, 2300])
    expect(await waiting(actor)).toEqual([{ waiting: 0, amount: 0 }])
    const { disputes } = await asClient(database, actor, loadDisputesPage)
    expect(disputes[0]?.decided).toMatchObject({ date: '2026-03-02', by: 'Orla Quill', note: 'lost' })
    // Its entry leads back to the chargeback.
    const trace = await asClient(database, actor, tx =>
      loadTrace(tx, { at: 'entry', entry: disputes[0]?.decided?.entry ?? '' }),
    )
    expect(JSON.stringify(trace)).toContain('line:openhall/C')
    await undoDispute(database, actor, of)
    await expect(undoDispute(database, actor, of)).rejects.toThrow('Nothing stands decided')
    expect(await stateOf(actor)).toEqual([['open', -12_300, '1320', 'S']])
    expect([await balanceOf(actor, '1320'), await balanceOf(actor, '4200'), await balanceOf(actor, '2200')]).toEqual([
      12_300,
      0,
      tax,
    ])
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is written off, without tax, on the first open day where its own month is locked', async () => {
    const actor = await disputed('Written off')
    const off = { ...of, note: '', decision: { as: 'written_off', account: '6000' } } as const
    for (const month of ['2026-01', '2026-02'])
      await setLocked(database, actor, { month, locked: true, reason: 'tried' }, monthChecks)
    await decideDispute(database, actor, { ...off, date: '2026-02-20' })
    const [decision] = await asClient(database, actor, tx =>
      rowsOf(tx, { date: is.date }, sql`SELECT date::text FROM entry WHERE document = 'decision'`),
    )
    expect(decision?.date).toBe('2026-03-01')
    expect([await balanceOf(actor, '1320'), await balanceOf(actor, '6000')]).toEqual([0, 12_300])
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is won by its reversal, and what a part of it leaves is still disputed', async () => {
    const won = await disputed('Won', [line('R', 'chargeback_reversal', '123.00', '2026-02-20')])
    expect(await stateOf(won)).toEqual([['won', 0, '1320', 'S']])
    await expect(
      decideDispute(database, won, { ...of, date: '2026-03-02', note: '', decision: { as: 'credited' } }),
    ).rejects.toThrow('not open any more')
    const part = await disputed('Won in part', [
      line('R', 'chargeback_reversal', '23.00', '2026-02-20', { related_id: 'C' }),
    ])
    expect(await stateOf(part)).toEqual([['open', -10_000, '1320', 'S']])
    await decideDispute(database, part, {
      ...of,
      date: '2026-03-02',
      note: '',
      decision: { as: 'written_off', account: '6000' },
    })
    expect(await balanceOf(part, '1320')).toBe(0)
  })

  it('is not called won by what came back of another, nor decided once more came back after all', async () => {
    // Two of one order, and a reversal that covers one of them.
    const two = await disputed('Two of one order', [
      line('C2', 'chargeback', '-70.00', '2026-02-05'),
      line('R', 'chargeback_reversal', '123.00', '2026-02-20'),
    ])
    expect(await stateOf(two)).toEqual([
      ['open', -7000, '1320', 'S'],
      ['won', 0, '1320', 'S'],
    ])
    const late = await disputed('Came back after all')
    await decideDispute(database, late, {
      ...of,
      date: '2026-03-02',
      note: '',
      decision: { as: 'written_off', account: '6000' },
    })
    await upload(
      database,
      late,
      csvOf([line('R', 'chargeback_reversal', '123.00', '2026-03-10', { settlement_id: 'W-3' })]),
    )
    expect(await stateOf(late)).toEqual([['changed', 12_300, '1320', 'S']])
    expect(await waiting(late)).toEqual([{ waiting: 1, amount: 12_300 }])
    await undoDispute(database, late, of)
    expect(await stateOf(late)).toEqual([['won', 0, '1320', 'S']])
  })
})
