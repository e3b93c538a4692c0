import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clearingAccounts } from '../activity/clearingAccounts.ts'
import { importBalances } from '../activity/importBalances.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import {
  addShop,
  csvOf,
  madeRoute,
  makeClientWithWeeks,
  settlementKeys,
  testDatabase,
  upload,
  type Weeks,
} from '../testing/madeClient.ts'
import { balanceAccounts } from './balanceAccounts.ts'
import { proveBalance } from './balanceProof.ts'
import { loadProof, unclosedNow, unprovedAt } from './loadProof.ts'

const database = testDatabase(8)
let actor: Actor
let keys: SettlementKey[]
let weeks: Weeks

/** What the marketplace holds at the end of each day, from the lines alone. */
const balances = (rows: Weeks['lines']) => {
  const sums = new Map<string, number>()
  let balance = 0
  for (const row of [...rows].sort((left, right) => ((left.occurred_at ?? '') < (right.occurred_at ?? '') ? -1 : 1))) {
    balance += Math.round(Number(row.amount) * 100)
    sums.set((row.occurred_at ?? '').slice(0, 10), balance)
  }
  return [...sums].map(([date, available]) => ({ currency: 'EUR', date, available, pending: 0, reserve: 0 }))
}
const prove = (date: string | null, brief = false) =>
  asClient(database, actor, async tx => {
    const [clearing] = await clearingAccounts(tx)
    const proof = clearing && (await loadProof(tx, clearing, date, brief))
    if (!proof) throw new Error('no proof')
    return {
      unexplained: proof.unexplained,
      causes: proof.causes.map(({ cause, amount }) => [cause, amount]),
      ledger: proof.ledger,
      reported: proof.reported,
    }
  })

beforeAll(async () => {
  const made = await makeClientWithWeeks(database, 'Proved', 10, 4)
  ;({ actor, keys, weeks } = made)
  await asClient(database, actor, tx => importBalances(tx, 'openhall', balances(weeks.lines)))
  await postSettlements(database, actor, keys.slice(0, 6))
})
afterAll(() => database.$client.end())

describe('the proof of a balance that payouts leave only once they have arrived', () => {
  it('is closed on every day, whatever is posted: no payout has arrived without a bank line', async () => {
    const made = await makeClientWithWeeks(database, 'Arrived', 4, 3)
    await asClient(database, made.actor, tx =>
      tx.execute(sql`UPDATE source SET options = options || '{"payoutsLeaveBalance": "arrived"}'`),
    )
    const held = balances(made.weeks.lines.filter(row => row.kind !== 'payout'))
    await asClient(database, made.actor, tx => importBalances(tx, 'openhall', held))
    for (const posted of [0, 2, 4]) {
      await postSettlements(database, made.actor, made.keys.slice(0, posted))
      for (const { date } of held)
        await asClient(database, made.actor, async tx => {
          const [clearing] = await clearingAccounts(tx)
          const proof = clearing && (await loadProof(tx, clearing, date))
          expect(proof?.unexplained, `${date}, ${posted} posted: ${JSON.stringify(proof?.causes)}`).toBe(0)
        })
    }
  })
})

it('takes a reserve that several processors keep on one account for what all of them say', async () => {
  const { actor: several } = await makeClientWithWeeks(database, 'Two reserves', 1, 1)
  await addShop(database, several)
  await saveRoutes(database, several, {
    changed: [madeRoute('reserve_kept', { account: '1290' })],
    removed: [],
  })
  for (const [source, reserve, date] of [
    ['openhall', 700, '2026-02-01'],
    ['brookpay', 250, '2026-02-03'],
  ] as const) {
    const row = { line_id: `${source}-r`, occurred_at: '2026-01-20T10:00:00Z', kind: 'reserve_kept', currency: 'EUR' }
    await upload(database, several, csvOf([{ ...row, amount: `-${reserve / 100}` }]), 'activity.csv', source)
    await asClient(database, several, tx =>
      importBalances(tx, source, [{ currency: 'EUR', date, available: 0, pending: 0, reserve }]),
    )
  }
  await postSettlements(database, several, await settlementKeys(database, several))
  const proof = await asClient(database, several, async tx => {
    const of = (await balanceAccounts(tx)).find(one => one.account === '1290')
    return of ? proveBalance(tx, of, null) : null
  })
  expect(proof).toMatchObject({
    ledger: 950,
    reported: 950,
    unexplained: 0,
    stated: { date: '2026-02-03', by: 'Brookpay, Openhall' },
  })
})

describe('the proof', () => {
  it('is closed on every single day of ten weeks, whatever is posted', async () => {
    for (const { date } of balances(weeks.lines)) {
      const proof = await prove(date)
      expect(proof.unexplained, `${date}: ${JSON.stringify(proof)}`).toBe(0)
      expect(await prove(date, true), date).toMatchObject({ unexplained: 0, ledger: proof.ledger })
    }
  })
  it('says what a line that changed after posting comes to, until it is booked', async () => {
    const changed = weeks.lines.map(row =>
      row.line_id === 'W-00002-0s' ? { ...row, amount: (Number(row.amount) + 7).toFixed(2) } : row,
    )
    await upload(database, actor, csvOf(changed))
    const proof = await prove('2026-03-15')
    expect(proof.causes).toContainEqual(['correction', 700])
    expect(proof.unexplained).toBe(-700)
    await upload(database, actor, csvOf(weeks.lines))
    expect(await prove('2026-03-15')).toMatchObject({ unexplained: 0 })
  })
  it('names an entry made by hand, and is no less closed for it', async () => {
    await asClient(database, actor, async tx => {
      const [act] = await rowsOf(tx, { id: is.text }, sql`SELECT act_id AS id FROM act LIMIT 1`)
      await tx.execute(sql`INSERT INTO entry (client_id, fiscal_year, number, date, document, currency, line_count, act_id, memo)
        VALUES (current_client(), 2026, 900000, '2026-02-10', 'by_hand', 'EUR', 2, ${act?.id}, 'fee?')`)
      for (const [line, account, amount] of [
        [1, '1210', 1500],
        [2, '6000', -1500],
      ] as const)
        await tx.execute(sql`INSERT INTO entry_line (client_id, fiscal_year, number, line_no, line_count, date, currency, account, amount, base_amount)
          VALUES (current_client(), 2026, 900000, ${line}, 2, '2026-02-10', 'EUR', ${account}, ${amount}, ${amount})`)
      await tx.execute(sql`INSERT INTO account_total (client_id, account, tax_code, segments, currency, day, debit, credit, base_debit, base_credit)
        VALUES (current_client(), '1210', '', 'hand', 'EUR', '2026-02-10', 1500, 0, 1500, 0)`)
    })
    expect(await prove('2026-02-09')).toMatchObject({ unexplained: 0 })
    const proof = await prove('2026-03-15')
    expect(proof.causes).toContainEqual(['by_hand', -1500])
    expect(proof.unexplained).toBe(0)
  })
  it('shows what is unexplained on the course', async () => {
    await asClient(database, actor, async tx => {
      await importBalances(tx, 'openhall', [
        { currency: 'EUR', date: '2026-12-01', available: 1240, pending: 0, reserve: 0 },
      ])
      expect(await unclosedNow(tx)).toMatchObject([{ currency: 'EUR', outcome: 'open', unexplained: 1240 }])
    })
  })
})

it('asks for no balance of an account before anything moved on it, and for one from the first line on', async () => {
  const { actor: young } = await makeClientWithWeeks(database, 'Young', 1, 1)
  const at = (date: string) =>
    asClient(database, young, async tx => (await unprovedAt(tx, date)).map(one => one.account))
  expect(await at('2025-12-31')).toEqual([])
  // One sale on the 5th, not posted: no balance was stated either.
  expect(await at('2026-01-05')).toEqual(['1210'])
  expect(await at('2026-01-31')).toEqual(['1210'])
})
