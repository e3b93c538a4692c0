import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { loadMonths, setLocked } from '../close/loadClose.ts'
import { loadMonthState } from '../close/loadMonthState.ts'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadTaxCheck } from '../mapping/loadTaxCheck.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { monthChecks } from '../stages.ts'
import { csvOf, makeClient, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const lines = [
  ['1', '2026-01-30T10:00:00Z', 'sale', '123.00'],
  ['2', '2026-02-02T10:00:00Z', 'sale', '246.00'],
  ['3', '2026-02-03T10:00:00Z', 'payout', '-369.00'],
].map(([id, at, kind, amount]) => ({
  line_id: id ?? '',
  settlement_id: 'W-1',
  occurred_at: at ?? '',
  kind: kind ?? '',
  currency: 'EUR',
  amount: amount ?? '',
}))

it('a settlement that is split waits in each of its months, and its tax is that of each', async () => {
  for (const splitAtMonthEnd of [true, false]) {
    const actor = await makeClient(database, `Split ${splitAtMonthEnd}`, { source: { splitAtMonthEnd } })
    await upload(database, actor, csvOf(lines))
    const months = async () =>
      (await asClient(database, actor, loadMonths)).map(one => [one.month, one.proposed]).sort()
    const taxOf = async (month: string) =>
      (await asClient(database, actor, tx => loadTaxCheck(tx, month))).codes.map(code => code.booked)
    const february = ['2026-02', 1]
    expect(await months()).toEqual(splitAtMonthEnd ? [['2026-01', 1], february] : [february])
    expect([await taxOf('2026-01'), await taxOf('2026-02')]).toEqual(splitAtMonthEnd ? [[2300], [4600]] : [[], [6900]])
    const january = await asClient(database, actor, tx => loadMonthState(tx, '2026-01', monthChecks))
    expect(january.proposed).toBe(splitAtMonthEnd ? 1 : 0)
    if (!splitAtMonthEnd) continue
    // January is not done before its part is posted: a lock needs a reason, and puts its part on the first open day.
    await expect(setLocked(database, actor, { month: '2026-01', locked: true }, monthChecks)).rejects.toThrow(
      'still open',
    )
    await setLocked(database, actor, { month: '2026-01', locked: true, reason: 'tried' }, monthChecks)
    const keys = await settlementKeys(database, actor)
    expect((await postSettlements(database, actor, keys)).notPosted).toEqual([])
    const dates = await asClient(database, actor, tx =>
      rowsOf(tx, { date: is.date }, sql`SELECT date::text FROM entry WHERE document = 'journal' ORDER BY number`),
    )
    expect(dates.map(row => row.date)).toEqual(['2026-02-01', '2026-02-02'])
  }
})
