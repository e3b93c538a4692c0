import { type MakeMissing, type MissingPage, makeMissingBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { csvOf, madeRoute, makeClient, makeWeeks, testDatabase, upload } from '../testing/madeClient.ts'
import { loadMissing } from './loadMissing.ts'
import { makeMissing } from './makeMissing.ts'
import { saveRoutes } from './saveRoutes.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

let actor: Actor
/** A client with activity of two weeks, and nothing that says how it is booked. */
beforeEach(async () => {
  actor = await makeClient(database, 'Nothing mapped')
  await asClient(database, actor, async tx => {
    await tx.execute(sql`DELETE FROM route`)
    await tx.execute(sql`UPDATE client SET tax_by = 'rows', country = 'IE' WHERE client_id = current_client()`)
    await tx.execute(sql`DELETE FROM source_bank`)
  })
  const { lines } = makeWeeks(2, 6)
  const reserve = (id: string, kind: string, amount: string) => ({
    ...{ line_id: id, settlement_id: 'W-00001', occurred_at: '2026-01-08T10:00:00Z', kind, currency: 'EUR', amount },
  })
  await upload(
    database,
    actor,
    csvOf([...lines, reserve('r1', 'reserve_kept', '-5.00'), reserve('r2', 'reserve_released', '5.00')]),
  )
})

const page = async (): Promise<MissingPage> => (await asClient(database, actor, loadMissing)).page
/** All that is taken as it is proposed, with what only a person says. */
const takeAll = (of: MissingPage, more: Partial<MakeMissing> = {}): MakeMissing => ({
  version: of.version,
  banks: of.banks.map(row => ({ key: row.key, use: row.use?.account ?? null, make: row.use ? null : row.make })),
  clearings: of.clearings.map(row => ({
    key: row.key,
    use: row.use?.account ?? null,
    make: row.use ? null : row.make,
  })),
  rounding: of.rounding && {
    ...{ key: of.rounding.key, use: of.rounding.use?.account ?? null },
    make: of.rounding.use ? null : of.rounding.make,
  },
  accounts: of.accounts.map(row => ({ key: row.key, use: row.use?.account ?? null, make: row.use ? null : row.make })),
  taxes: of.taxes.map(row => ({
    key: row.key,
    use: row.use?.code ?? null,
    make: row.use || !row.make ? null : { code: row.make.code, name: row.make.name, percent: row.make.percent ?? 23 },
  })),
  taxAccount: { use: of.taxAccount.use, make: of.taxAccount.use ? null : of.taxAccount.make },
  feeTaxes: of.feeTaxes.map(({ key }) => ({ key, code: null })),
  ...more,
})
const make = (wanted: MakeMissing) => makeMissing(database, actor, makeMissingBody.parse(wanted))
const routes = () =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { kind: is.text, account: is.maybe(is.text), code: is.maybe(is.text) },
      sql`SELECT kind, account, tax_code AS code FROM route ORDER BY kind`,
    ),
  )
const states = () =>
  asClient(database, actor, tx => rowsOf(tx, { state: is.text }, sql`SELECT DISTINCT state FROM settlement ORDER BY 1`))

describe('what is missing', () => {
  it('is computed from what was reported, and made in one act, so that settlements are composed', async () => {
    const before = await page()
    expect(before.accounts.map(row => row.kind)).toContain('sale')
    expect(before.accounts.find(row => row.kind === 'reserve_kept')?.kinds.sort()).toEqual([
      'reserve_kept',
      'reserve_released',
    ])
    expect(before.banks).toMatchObject([{ source: 'openhall', currency: 'EUR', use: { account: '1000', sure: true } }])
    expect(before.feeTaxes).toMatchObject([{ of: 'charged', kinds: ['selling_fee'] }])
    expect(before.accounts.find(row => row.kind === 'selling_fee')?.asks).toEqual(['openhall/charged'])
    expect(await states()).toEqual([{ state: 'blocked' }])
    const made = await make(takeAll(before))
    expect(made.accounts).toBe(1)
    expect(made.unblocked).toBeGreaterThan(0)
    expect(await states()).toEqual([{ state: 'proposed' }])
    const after = await page()
    expect([after.accounts, after.banks, after.taxes, after.feeTaxes]).toEqual([[], [], [], []])
    expect((await routes()).find(route => route.kind === 'sale')).toMatchObject({ account: '4000', code: null })
  })

  it('is not made by silence where a tax is borne, and nothing of the act stays', async () => {
    const before = await page()
    await expect(make(takeAll(before, { feeTaxes: [] }))).rejects.toMatchObject({ code: 'fee_tax_unsaid' })
    expect(await routes()).toEqual([])
    expect((await page()).banks).toHaveLength(1)
  })

  it('is made once: a second press, or somebody’s save in between, changes nothing', async () => {
    const before = await page()
    const wanted = takeAll(before)
    const both = await Promise.allSettled([make(wanted), make(wanted)])
    expect(both.map(one => one.status).sort()).toEqual(['fulfilled', 'rejected'])
    const count = (await routes()).length
    const now = await page()
    await expect(make({ ...wanted, version: now.version })).rejects.toMatchObject({ code: 'not_missing' })
    expect((await routes()).length).toBe(count)
  })

  it('takes no account that is not there, and no number twice', async () => {
    const before = await page()
    const sale = before.accounts.filter(row => row.kind === 'sale')
    const choice = (use: string | null, code: string) => ({
      accounts: sale.map(row => ({
        key: row.key,
        use,
        make: use ? null : { code, name: 'Other sales', type: 'income' as const },
      })),
      ...{ banks: [], clearings: [], rounding: null, taxes: [] },
    })
    await expect(make(takeAll(before, choice('9999', '')))).rejects.toMatchObject({ code: 'account_unusable' })
    await expect(make(takeAll(before, choice(null, '4100')))).rejects.toMatchObject({ code: 'account_taken' })
    expect(await routes()).toEqual([])
    expect((await make(takeAll(before, choice(null, '4050')))).accounts).toBe(1)
  })

  it('leaves tax to a person where no line states it, and makes a code of the rate that is said', async () => {
    const before = await page()
    const open = before.taxes.filter(row => row.use === null)
    for (const row of open) expect(row.make?.percent === null || row.seenPercent !== null).toBe(true)
    const wanted = takeAll(before)
    const made = await make({
      ...wanted,
      taxes: before.taxes.map(row => ({
        key: row.key,
        use: null,
        make: { code: `N${row.region ?? ''}`, name: 'New', percent: 9 },
      })),
    })
    expect(made.taxCodes).toBe(new Set(before.taxes.map(row => row.region ?? '')).size)
    const codes = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { code: is.text, percent: is.text },
        sql`SELECT code, percent::text AS percent FROM tax_rate WHERE code LIKE 'N%'`,
      ),
    )
    expect(codes.every(code => Number(code.percent) === 9)).toBe(true)
    expect(await states()).toEqual([{ state: 'proposed' }])
  })

  it('gives a source a clearing account in each currency that it reports', async () => {
    await upload(
      database,
      actor,
      csvOf([
        {
          ...{ line_id: 'c1', settlement_id: 'W-1', occurred_at: '2026-01-08T10:00:00Z', kind: 'sale' },
          ...{ currency: 'CAD', amount: '50.00', region: 'CA' },
        },
      ]),
    )
    await asClient(database, actor, tx =>
      tx.execute(sql`UPDATE client SET exchange_rounding = NULL WHERE client_id = current_client()`),
    )
    const before = await page()
    expect(before.rounding).toMatchObject({ use: { account: '7900', sure: true }, lines: 1 })
    expect(before.clearings).toMatchObject([{ source: 'openhall', currency: 'CAD', use: null }])
    await make(takeAll(before))
    const after = await page()
    expect([after.clearings, after.rounding]).toEqual([[], null])
    const made = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { type: is.text, currency: is.text },
        sql`SELECT a.type, a.currency FROM source_clearing c JOIN account a ON a.client_id = c.client_id AND a.code = c.account WHERE c.currency = 'CAD'`,
      ),
    )
    expect(made).toEqual([{ type: 'clearing', currency: 'CAD' }])
  })

  it('gives banks of two currencies two numbers, and counts a payout that came back changed once', async () => {
    await asClient(database, actor, tx => tx.execute(sql`UPDATE account SET archived = true WHERE type = 'bank'`))
    const before = (await page()).banks[0]
    const [payout] = makeWeeks(2, 6).lines.filter(line => line.kind === 'payout')
    await upload(database, actor, csvOf([{ ...payout, amount: (Number(payout?.amount) - 1).toFixed(2) }]))
    const cad = {
      line_id: 'c1',
      settlement_id: 'W-9',
      occurred_at: '2026-01-08T10:00:00Z',
      kind: 'payout',
      currency: 'CAD',
    }
    await upload(database, actor, csvOf([{ ...cad, amount: '-5.00' }]))
    const { banks } = await page()
    expect(banks.map(bank => [bank.currency, bank.use])).toEqual([
      ['CAD', null],
      ['EUR', null],
    ])
    expect(banks[1]?.lines).toBe(before?.lines)
    expect(new Set(banks.map(bank => bank.make.code)).size).toBe(2)
    const now = await page()
    await make(takeAll(now))
    expect((await page()).banks).toEqual([])
  })

  it('uses no bank of another currency or type, and lets no rate win over another by silence', async () => {
    const before = await page()
    const bank = before.banks[0]?.key ?? ''
    const only = { ...takeAll(before), accounts: [], taxes: [], clearings: [], rounding: null }
    await expect(make({ ...only, banks: [{ key: bank, use: '4000', make: null }] })).rejects.toMatchObject({
      code: 'account_unusable',
    })
    const named = (key: string, percent: number) => ({ key, use: null, make: { code: 'X', name: 'X', percent } })
    const keys = before.taxes.map(row => row.key)
    if (keys.length > 1)
      await expect(make({ ...only, banks: [], taxes: keys.map((key, at) => named(key, at)) })).rejects.toMatchObject({
        code: 'tax_code_taken',
      })
    expect(keys.length).toBeGreaterThan(0)
    expect((await page()).banks).toHaveLength(1)
  })

  it('names a clearing account that cannot serve', async () => {
    await asClient(database, actor, tx =>
      tx.execute(sql`UPDATE account SET takes_postings = false WHERE code = '1210'`),
    )
    expect((await page()).unfit).toEqual([
      { source: 'openhall', name: 'Openhall', account: '1210', currency: 'EUR', why: 'archived' },
    ])
  })

  it('names routes to accounts that cannot serve, or are unlike what goes there', async () => {
    await saveRoutes(database, actor, {
      changed: [
        madeRoute('sale', { account: '6000' }),
        madeRoute('shipping', { account: '4100' }),
        madeRoute('selling_fee', { account: '6000' }),
      ],
      removed: [],
    })
    expect((await page()).unfitRoutes).toMatchObject([{ title: 'Sale', account: '6000', type: 'expense', why: 'type' }])
    await asClient(database, actor, tx => tx.execute(sql`UPDATE account SET archived = true WHERE code = '4100'`))
    expect((await page()).unfitRoutes.map(one => [one.title, one.why])).toEqual([
      ['Sale', 'type'],
      ['Shipping', 'archived'],
    ])
  })

  it('names a rate that is not the one that was charged', async () => {
    const wanted = takeAll(await page())
    await make(wanted)
    expect((await page()).unlikeRates).toEqual([])
    const line = { settlement_id: 'W-00002', occurred_at: '2026-01-14T10:00:00Z', kind: 'sale', currency: 'EUR' }
    await upload(
      database,
      actor,
      csvOf(
        Array.from({ length: 40 }, (_, at) => ({ ...line, line_id: `u${at}`, amount: '107.00', tax_amount: '7.00' })),
      ),
    )
    const [unlike, ...others] = (await page()).unlikeRates
    expect(others).toEqual([])
    expect(unlike).toMatchObject({ region: '-', mapped: [23, 23] })
    expect(unlike?.seen).toBeCloseTo(7, 1)
  })

  it('takes no tax over from a route of sales where rows decide that', async () => {
    await saveRoutes(database, actor, { changed: [madeRoute('sale', { account: '4000' })], removed: [] })
    const { feeTaxes } = await page()
    expect(feeTaxes.map(row => row.key)).toEqual(['openhall/charged'])
  })
})
