import { Readable } from 'node:stream'
import { taxCodeRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { codeLine } from '../bank/codeLine.ts'
import { uploadStatement } from '../bank/uploadStatement.ts'
import { loadProofPage } from '../clearing/loadClearing.ts'
import { stateBalance } from '../clearing/stateBalance.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadSettlement } from '../settlements/loadSettlement.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { csvOf, madeRoute, makeClient, testDatabase, upload } from '../testing/madeClient.ts'
import { loadTaxCheck } from './loadTaxCheck.ts'
import { saveRoutes } from './saveRoutes.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const component = {
  name: 'VAT',
  account: '2200',
  inputAccount: '2210',
  compound: false,
  rates: [{ from: '2020-01-01', percent: '23' }],
}
const purchases = (percent: string) =>
  taxCodeRow.parse({
    code: 'P23',
    name: 'VAT on purchases',
    basis: 'inclusive',
    use: 'purchases',
    reverseCharge: false,
    country: 'IE',
    recovery: [{ from: '2026-02-01', percent }],
    components: [{ ...component, account: '2210', inputAccount: null }],
  })
const reverse = taxCodeRow.parse({
  code: 'RC23',
  name: 'Reverse charge',
  basis: 'none',
  use: 'purchases',
  reverseCharge: true,
  recovery: [{ from: '2026-02-01', percent: '60' }],
  components: [component],
})

const clientWithCodes = async (name: string): Promise<Actor> => {
  const actor = await makeClient(database, name)
  await asClient(database, actor, tx =>
    tx.execute(
      sql`INSERT INTO account (client_id, code, name, type, currency) VALUES (current_client(), '2210', 'VAT on purchases', 'tax', 'EUR')`,
    ),
  )
  await saveTaxCodes(database, actor, [purchases('60'), reverse])
  return actor
}
const balances = async (actor: Actor): Promise<Record<string, number>> =>
  Object.fromEntries(
    (
      await asClient(database, actor, tx =>
        rowsOf(
          tx,
          { account: is.text, balance: is.minor },
          sql`SELECT account, sum(debit - credit)::bigint AS balance FROM account_total GROUP BY 1 HAVING sum(debit - credit) <> 0 ORDER BY 1`,
        ),
      )
    ).map(row => [row.account, row.balance]),
  )

it('a fee’s tax is taken back in part, by the version of the codes that it was posted with', async () => {
  const actor = await clientWithCodes('Fees in part')
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('advertising_fee', { account: '6000', taxCode: 'P23' }),
      madeRoute('subscription_fee', { account: '4100', taxCode: 'RC23' }),
    ],
    removed: [],
  })
  const fee = (id: string, settlement: string, kind: string, amount: string) => ({
    line_id: id,
    settlement_id: settlement,
    occurred_at: '2026-02-10T10:00:00Z',
    kind,
    currency: 'EUR',
    amount,
  })
  await upload(
    database,
    actor,
    csvOf([
      fee('1', 'A', 'advertising_fee', '-12.30'),
      fee('2', 'A', 'subscription_fee', '-40.00'),
      fee('3', 'B', 'advertising_fee', '-12.30'),
    ]),
  )
  const key = (name: string) => ({ source: 'openhall', key: name, currency: 'EUR' })
  await postSettlements(database, actor, [key('A')])
  // 12.30 hold 2.30, of which 1.38 come back; 40.00 owe 9.20, of which 5.52 come back.
  expect(await balances(actor)).toEqual({ '1210': -5230, '2200': -920, '2210': 690, '4100': 4368, '6000': 1092 })
  await saveTaxCodes(database, actor, [purchases('10')])
  const drafted = async (name: string) =>
    (await asClient(database, actor, tx => loadSettlement(tx, key(name))))?.entries.flatMap(entry =>
      entry.lines.filter(line => line.account === '2210' && line.taxCode === 'P23').map(line => line.amount),
    )
  expect(await drafted('A')).toEqual([138])
  expect(await drafted('B')).toEqual([23])
  // The tax check sees the whole of it, with each version's code.
  const { codes } = await asClient(database, actor, tx => loadTaxCheck(tx, '2026-02'))
  expect(codes.filter(code => code.taxCode === 'P23').map(code => [code.base, code.booked, code.difference])).toEqual([
    [-2000, -460, 0],
  ])
})

it('a bank payment’s tax is taken back in part, checked, and proved with its account', async () => {
  const actor = await clientWithCodes('Payments in part')
  const lines = [
    'A,2026-01-20,1000,-12.30,EUR,CLAY,',
    'B,2026-02-20,1000,-12.30,EUR,CLAY,',
    'C,2026-02-21,1000,-0.07,EUR,CLAY,',
  ]
  await uploadStatement(database, actor, {
    name: 'statement.csv',
    body: Readable.from([
      Buffer.from(`line_id,date,bank_account,amount,currency,description,reference\n${lines.join('\n')}\n`),
    ]),
  })
  for (const bankLine of ['A', 'B', 'C'])
    await codeLine(database, actor, { account: '1000', bankLine, to: '6000', taxCode: 'P23', memo: '' })
  // All of January's 2.30, 1.38 of February's; of 0.07 the cent of tax comes back, for 0.6 rounds to it.
  expect(await balances(actor)).toEqual({ '1000': -2467, '2210': 369, '6000': 2098 })
  const of = async (month: string) =>
    (await asClient(database, actor, tx => loadTaxCheck(tx, month))).codes.map(code => [
      code.base,
      code.booked,
      code.expected,
    ])
  expect(await of('2026-01')).toEqual([[-1000, -230, -230]])
  expect(await of('2026-02')).toEqual([[-1006, -139, -139]])
  await stateBalance(database, actor, { account: '2210', currency: 'EUR', date: '2026-02-28', amount: 369 })
  const proof = await asClient(database, actor, tx => loadProofPage(tx, '2210', { date: '2026-02-28', currency: null }))
  expect(proof).toMatchObject({ outcome: 'closed', leads: [] })
})

it('a share that cannot be is refused with its reason', async () => {
  const actor = await clientWithCodes('Shares refused')
  const refused = (more: object) =>
    saveTaxCodes(database, actor, [taxCodeRow.parse({ ...purchases('60'), ...more })]).then(
      () => null,
      (error: { found?: { faults: { code: string }[] } }) => error.found?.faults.map(fault => fault.code),
    )
  expect(await refused({ use: 'sales' })).toEqual(['recovery_of_sales'])
  expect(await refused({ recovery: [{ from: '2026-01-01', percent: '100.5' }] })).toEqual(['bad_recovery'])
  expect(
    await refused({
      recovery: [
        { from: '2026-01-01', percent: '50' },
        { from: '2026-01-01', percent: '60' },
      ],
    }),
  ).toEqual(['recovery_twice'])
  expect(taxCodeRow.safeParse({ ...purchases('60'), country: 'Ireland' }).success).toBe(false)
})
