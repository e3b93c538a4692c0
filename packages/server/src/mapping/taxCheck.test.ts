import { taxCodeRow, taxRowBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { csvOf, madeRoute, makeClient, type Row, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'
import { listTaxLines, loadTaxCheck } from './loadTaxCheck.ts'
import { loadTaxGrid } from './loadTaxGrid.ts'
import { saveRoutes } from './saveRoutes.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'
import { saveTaxRows } from './saveTaxRows.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const line = (id: string, kind: string, amount: string, more: Row = {}): Row => ({
  line_id: id,
  settlement_id: 'W-1',
  occurred_at: '2026-03-03T10:00:00Z',
  kind,
  order_id: '',
  category: '',
  region: '',
  currency: 'EUR',
  amount,
  ...more,
})

describe('the tax check', () => {
  const makeTaxed = async (name: string) => {
    const actor = await makeClient(database, name, { source: { ancillaryFollows: true } })
    const [standard] = await asClient(database, actor, tx =>
      rowsOf(tx, { code: is.text }, sql`SELECT code FROM tax_code`),
    )
    expect(standard).toEqual({ code: 'S23' })
    const code = (codeName: string, country: string, percent: string) =>
      taxCodeRow.parse({
        code: codeName,
        name: codeName,
        country,
        basis: 'inclusive',
        use: 'sales',
        reverseCharge: false,
        components: [
          {
            name: 'VAT',
            account: '2200',
            inputAccount: null,
            compound: false,
            rates: [{ from: '2020-01-01', percent }],
          },
        ],
      })
    await saveTaxCodes(database, actor, [code('S23', 'IE', '23'), code('S9', 'IE', '9'), code('DE19', 'DE', '19')])
    await saveRoutes(database, actor, { changed: [madeRoute('refund', { account: '4000' })], removed: [] })
    return actor
  }
  const save = (actor: Actor, rows: readonly Record<string, unknown>[]) =>
    saveTaxRows(database, actor, {
      rows: rows.map(row => taxRowBody.parse(row)),
      classes: [{ sku: null, category: 'Books', class: 'books' }],
      byRows: true,
    })

  it('holds what was booked against the grid of today, and finds what hangs on nothing known', async () => {
    const actor = await makeTaxed('Checked')
    // Irish tax on what went to Germany, as if category had gone before place.
    await save(actor, [{ code: 'S23' }, { region: 'IE', class: 'books', code: 'S9' }])
    await upload(
      database,
      actor,
      csvOf([
        line('1', 'sale', '123.00', { order_id: 'A', region: 'DE' }),
        line('2', 'sale', '61.50', { order_id: 'B', region: 'IE' }),
        line('3', 'sale', '21.80', { order_id: 'B', region: 'IE', category: 'Books' }),
        line('4', 'shipping', '8.33', { order_id: 'B', region: 'IE' }),
        line('5', 'shipping', '5.00', { order_id: 'C', region: 'IE' }),
        line('6', 'refund', '-12.30', { order_id: 'Z', region: 'IE' }),
        line('7', 'payout', '-207.33'),
      ]),
    )
    const [key] = await settlementKeys(database, actor)
    expect((await postSettlements(database, actor, key ? [key] : [])).posted).toHaveLength(1)
    const check = async () => {
      const { places, hanging } = await asClient(database, actor, tx => loadTaxCheck(tx, '2026-03'))
      const told = (places ?? []).map(place => [place.region, place.class, place.booked, place.byGrid, place.foreign])
      return { told: told.sort((left, right) => (JSON.stringify(left) < JSON.stringify(right) ? -1 : 1)), hanging }
    }
    // Books and the rest share postage 21.80 to 61.50: 2.18 and 6.15. 23.98 holds 1.98; 61.50 + 6.15 + 5.00 − 12.30 holds 11.28.
    const irish = [
      ['IE', '', 1128, 1128, 0],
      ['IE', 'books', 198, 198, 0],
    ]
    expect(await check()).toEqual({
      told: [['DE', '', 2300, 2300, 12_300], ...irish],
      hanging: [{ currency: 'EUR', lost: -1230, lostLines: 1, unsplit: 500, unsplitLines: 1 }],
    })
    // Germany is given its own: what is posted stays, and the check says so.
    await save(actor, [{ code: 'S23' }, { region: 'IE', class: 'books', code: 'S9' }, { region: 'DE', code: 'DE19' }])
    expect((await check()).told).toEqual([['DE', '', 2300, 1964, 0], ...irish])
    // With a reason the country's being another is no fault.
    await save(actor, [
      { code: 'S23' },
      { region: 'IE', class: 'books', code: 'S9' },
      { region: 'DE', code: 'S23', reason: 'below the threshold' },
    ])
    expect((await check()).told).toEqual([['DE', '', 2300, 2300, 0], ...irish])
    const listed = (wanted: Parameters<typeof listTaxLines>[2]) =>
      asClient(database, actor, async tx => {
        const { lines, sum } = await listTaxLines(tx, '2026-03', wanted)
        return [lines.map(one => [one.lineId, one.amount]), sum]
      })
    const books = { currency: 'EUR', place: { region: 'IE', class: 'books', since: '2020-01-01' } }
    expect(await listed(books)).toEqual([
      [
        ['3', 2180],
        ['4', 218],
      ],
      2398,
    ])
    expect(await listed({ currency: 'EUR', hanging: 'lost' })).toEqual([[['6', -1230]], -1230])
    expect(await listed({ currency: 'EUR', hanging: 'unsplit' })).toEqual([[['5', 500]], 500])
    // By code: its lines, wherever they go, add up to the code’s base and tax.
    const { codes } = await asClient(database, actor, tx => loadTaxCheck(tx, '2026-03'))
    for (const { taxCode, base, booked } of codes) {
      const [, sum] = await listed({ currency: 'EUR', code: taxCode })
      expect(sum, taxCode).toBe(base + booked)
    }
    expect(codes.map(one => one.taxCode)).toContain('S9')
    // What is posted bears what it was posted with, whatever the grid says since.
    await save(actor, [{ code: 'S23' }])
    const after = await asClient(database, actor, tx => loadTaxCheck(tx, '2026-03'))
    expect(after.codes).toEqual(codes)
    expect((await listed({ currency: 'EUR', code: 'S9' }))[1]).toBeGreaterThan(0)
  })
})

describe('a client whose routes decide tax still', () => {
  it('keeps their codes until each cell that rows would change is decided, a draft in between', async () => {
    const actor = await makeClient(database, 'Decided cell by cell')
    const code = (name: string) =>
      taxCodeRow.parse({
        ...{ code: name, name, basis: 'inclusive', use: 'sales', reverseCharge: false },
        components: [
          {
            name: 'VAT',
            account: '2200',
            inputAccount: null,
            compound: false,
            rates: [{ from: '2020-01-01', percent: '7' }],
          },
        ],
      })
    await saveTaxCodes(database, actor, [code('DE7'), code('B7')])
    // The category's route goes before the region's: by rows it would be the other way round.
    await saveRoutes(database, actor, {
      changed: [
        madeRoute('sale', { account: '4000', taxCode: 'DE7', region: 'DE' }),
        madeRoute('sale', { account: '4000', taxCode: 'B7', category: 'Books' }),
        madeRoute('sale', { account: '4000', taxCode: 'B7', location: 'Market' }),
      ],
      removed: [],
    })
    const sold = { order_id: 'A', region: 'DE', category: 'Books' }
    await upload(
      database,
      actor,
      csvOf([line('1', 'sale', '10.70', sold), line('2', 'sale', '12.30', { region: 'IE' })]),
    )
    const grid = () => asClient(database, actor, loadTaxGrid)
    const drafts = () =>
      asClient(database, actor, tx =>
        rowsOf(tx, {}, sql`SELECT state, tax, blocks FROM settlement WHERE client_id = current_client()`),
      )
    const before = await drafts()
    const first = await grid()
    expect(
      first.doubts.map(one => [one.by, one.place.region, one.place.category, one.today, one.byRows, one.amount]),
    ).toEqual([
      [null, 'DE', 'Books', 'B7', 'DE7', 1070],
      ['location', null, null, 'B7', null, 0],
    ])
    const [doubt] = first.doubts
    const kept = taxRowBody.parse({ ...doubt?.place, class: 'Books', code: doubt?.today })
    const saved = { rows: [...first.rows, kept], classes: first.classes }
    await saveTaxRows(database, actor, { ...saved, byRows: false }, first.version)
    expect(await drafts()).toEqual(before)
    const draft = await grid()
    expect([draft.byRows, draft.doubts.map(one => one.by)]).toEqual([false, ['location']])
    await saveTaxRows(database, actor, { ...saved, byRows: true }, draft.version)
    expect(await grid()).toMatchObject({ byRows: true, doubts: [] })
    expect(await drafts()).toEqual(before)
    // There is no way back by which routes would decide again without a word.
    await expect(saveTaxRows(database, actor, { ...saved, byRows: false })).rejects.toThrow('cannot decide it again')
  })
})
