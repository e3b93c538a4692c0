import { taxCodeRow, taxRowBody } from '@culvert/contract'
import type { Rule } from '@culvert/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Actor, asClient } from '../database/connect.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { csvOf, madeRoute, makeClient, type Row, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'
import { listTaxLines, loadTaxCheck } from './loadTaxCheck.ts'
import { listGridLines, loadTaxGrid } from './loadTaxGrid.ts'
import { saveRoutes } from './saveRoutes.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'
import { saveTaxRows } from './saveTaxRows.ts'
import { countTouchedLines, listTouchedLines } from './touchedLines.ts'

const database = testDatabase(4)
let actor: Actor
afterAll(() => database.$client.end())

const line = (id: string, kind: string, amount: string, more: Row = {}): Row => ({
  ...{ line_id: id, settlement_id: 'W-1', occurred_at: '2026-03-03T10:00:00Z', kind, order_id: '', category: '' },
  ...{ sku: '', region: '', tax_label: '', tax_amount: '', description: '', currency: 'EUR', amount, ...more },
})

const code = (name: string, basis: 'inclusive' | 'exclusive') =>
  taxCodeRow.parse({
    ...{ code: name, name, country: 'IE', basis, use: 'sales', reverseCharge: false },
    components: [
      {
        ...{ name: 'VAT', account: '2200', inputAccount: null, compound: false },
        rates: [{ from: '2020-01-01', percent: '23' }],
      },
    ],
  })

/** What is alike in some columns and not in others, told and not told, with the signs that stand between values. */
beforeAll(async () => {
  actor = await makeClient(database, 'Lines behind sums')
  await saveTaxCodes(database, actor, [code('S23', 'inclusive'), code('X23', 'exclusive')])
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('sale', { account: '4000', taxCode: 'S23', category: 'Bowls' }),
      madeRoute('sale', { account: '4000', taxCode: 'X23', region: 'US' }),
      madeRoute('tax', { account: '2200', taxCode: 'X23' }),
      madeRoute('sale', { account: '4000', taxCode: 'X23', method: 'cash' }),
      madeRoute('surcharge', { account: '4000' }),
    ],
    removed: [],
  })
  await upload(
    database,
    actor,
    csvOf([
      line('1', 'sale', '123.00', { category: 'Bowls', region: 'IE', tax_amount: '23.00', description: 'Large bowl' }),
      line('2', 'sale', '61.50', { category: 'Bowls', region: 'DE', tax_amount: '11.50', tax_label: 'VAT' }),
      line('3', 'sale', '24.60', { category: 'Bowls|IE', region: 'IE', tax_amount: '4.60' }),
      line('4', 'sale', '100.00', { region: 'US', description: 'Small bowl' }),
      line('5', 'tax', '23.00', { region: 'US', tax_label: 'State' }),
      line('6', 'sale', '12.30', { sku: 'KIT', region: 'IE' }),
      line('7', 'sale', '12.30', { sku: 'KIT', category: 'Kits', region: 'IE', method: 'cash' }),
      line('8', 'refund', '-12.30', { region: 'IE' }),
      line('9', 'payout', '-344.40'),
    ]),
  )
})

const read = <Found>(load: Parameters<typeof asClient<Found>>[2]) => asClient(database, actor, load)
const sumOf = (lines: readonly { amount: number }[]) => lines.reduce((sum, one) => sum + one.amount, 0)

/** A sum on the page, and the lines it opens to: as many, and as much. */
const opens = (found: Awaited<ReturnType<typeof listGridLines>>, wanted: { amount: number; lines: number }) => {
  expect([found?.total, found?.sum]).toEqual([wanted.lines, wanted.amount])
  expect([found?.lines.length, sumOf(found?.lines ?? [])]).toEqual([wanted.lines, wanted.amount])
}

describe('the tax grid', () => {
  const everySum = async () => {
    const { seen, goods, doubts } = await read(loadTaxGrid)
    for (const { amount, stating: _stating, stated: _stated, lines, ...supply } of seen)
      opens(await read(tx => listGridLines(tx, { of: 'supplies', supplies: [supply] })), { amount, lines })
    for (const { amount, lines, ...of } of goods)
      opens(await read(tx => listGridLines(tx, { of: 'goods', goods: of })), { amount, lines })
    for (const { amount, lines, routeText: _text, ...doubt } of doubts.filter(one => one.lines > 0))
      opens(await read(tx => listGridLines(tx, { of: 'doubt', doubt })), { amount, lines })
    return { seen: seen.length, goods: goods.length, doubts: doubts.filter(one => one.lines > 0).length }
  }

  it('opens each of its sums to the lines that make it up, while routes decide and after', async () => {
    const before = await everySum()
    expect(before.doubts).toBeGreaterThan(0)
    expect(before).toMatchObject({ seen: 5, goods: 3 })
    await saveTaxRows(database, actor, {
      rows: [taxRowBody.parse({ code: 'S23' }), taxRowBody.parse({ region: 'US', code: 'X23' })],
      classes: [
        { sku: 'KIT', category: null, class: 'kits' },
        { sku: null, category: 'Bowls', class: 'bowls' },
      ],
      byRows: true,
    })
    expect(await everySum()).toEqual({ seen: 6, goods: 4, doubts: 0 })
  })

  it('opens several supplies as one sum, and nothing where nothing was seen', async () => {
    const { seen } = await read(loadTaxGrid)
    const supplies = seen.map(({ source, kind, label, region, class: name, since }) => ({
      ...{ source, kind, label, region, class: name, since },
    }))
    const all = await read(tx => listGridLines(tx, { of: 'supplies', supplies }))
    expect(all?.lines.map(one => one.lineId).sort()).toEqual(['1', '2', '3', '4', '5', '6', '7'])
    const none = { of: 'goods', goods: { category: 'Books', sku: null, class: '' } } as const
    expect(await read(tx => listGridLines(tx, none))).toBeNull()
  })
})

it('a rule opens to the lines that it meets, whatever it looks at', async () => {
  const met = async (conditions: Rule['conditions']) => {
    const rule: Rule = { id: 1, conditions, actions: [{ set: 'block' }] }
    const [counted] = (await read(tx => countTouchedLines(tx, [rule]))).touched
    const found = await read(tx => listTouchedLines(tx, rule))
    if (counted?.met === 0) expect(found).toBeNull()
    else opens(found, { amount: counted?.amount ?? 0, lines: counted?.met ?? 0 })
    return found?.lines.map(one => one.lineId).sort()
  }
  expect(await met([{ field: 'description', is: 'containing', value: 'bowl' }])).toEqual(['1', '4'])
  expect(await met([{ field: 'category', is: 'equal', value: 'Bowls' }])).toEqual(['1', '2'])
  expect(await met([{ field: 'amount', is: 'between', low: 10_000, high: 13_000 }])).toEqual(['1', '4'])
  expect(await met([{ field: 'category', is: 'equal', value: 'Books' }])).toBeUndefined()
})

it('what a source charged under a label opens to its bases and its taxes, within the price and on top', async () => {
  const keys = await settlementKeys(database, actor)
  await postSettlements(database, actor, keys)
  const { labels } = await read(tx => loadTaxCheck(tx, '2026-03'))
  expect(labels.map(one => [one.region, one.taxLabel, one.base, one.tax])).toEqual([
    ['DE', 'VAT', 5000, 1150],
    ['IE', null, 12_000, 2760],
    ['US', 'State', 10_000, 2300],
  ])
  for (const { source, region, taxLabel, currency, ...label } of labels)
    for (const part of ['base', 'tax'] as const) {
      const charged = { source, region, taxLabel, part }
      const found = await read(tx => listTaxLines(tx, '2026-03', { currency, charged }))
      expect([sumOf(found.lines), found.sum], `${region} ${part}`).toEqual([label[part], label[part]])
    }
})
