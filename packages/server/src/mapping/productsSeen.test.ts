import { itemRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { csvOf, madeRoute, makeClient, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'
import { loadProducts } from './productsSeen.ts'
import { saveItems } from './saveItems.ts'
import { saveRoutes } from './saveRoutes.ts'
import { saveRules } from './saveRules.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const sale = (id: string, sku: string, title: string, amount: string, more: Record<string, string> = {}) => ({
  line_id: id,
  settlement_id: 'W-1',
  occurred_at: '2026-03-02T10:00:00Z',
  kind: 'sale',
  currency: 'EUR',
  sku,
  description: title,
  customer: '',
  amount,
  ...more,
})

it('products find their items by SKU, learnt name and title, and are routed to them with the tax they had', async () => {
  const actor = await makeClient(database, 'Products')
  await upload(
    database,
    actor,
    csvOf([
      sale('1', 'BOWL-L', 'Large bowl', '45.00'),
      sale('2', 'FS-77', 'Blue mug boxed', '19.99'),
      sale('3', '', 'white MUG', '18.50'),
      sale('4', 'JUG', 'Milk jug', '36.00'),
      sale('5', 'BOWL-L', 'Large bowl', '45.00'),
      sale('6', 'BOWL-L', 'Large bowl', '-45.00', { kind: 'refund' }),
    ]),
  )
  const items = [
    itemRow.parse({ code: 'BOWL-L', name: 'Bowl, large', account: '4100' }),
    itemRow.parse({ code: 'MUG-B', name: 'Blue mug', otherNames: ['fs 77'], account: '4100' }),
    itemRow.parse({ code: 'MUG-W', name: 'White mug', account: '4100' }),
    itemRow.parse({ code: 'JUG-A', name: 'Milk jug', account: '4100' }),
    itemRow.parse({ code: 'JUG-B', name: 'Milk jug', account: '4100' }),
  ]
  await saveItems(database, actor, items)
  const seen = async () => (await asClient(database, actor, loadProducts)).products
  const found = await seen()
  expect(await asClient(database, actor, loadProducts)).toMatchObject({ from: '2026-03-02', to: '2026-03-02' })
  expect(found.map(row => [row.sku, row.amount, row.lines, row.found, row.by, row.items.join(' ')])).toEqual([
    ['BOWL-L', 9000, 2, 'one', 'code', 'BOWL-L'],
    ['JUG', 3600, 1, 'several', 'name', 'JUG-A JUG-B'],
    ['FS-77', 1999, 1, 'one', 'other_name', 'MUG-B'],
    ['', 1850, 1, 'one', 'name', 'MUG-W'],
  ])
  // A route by SKU needs one, and one item.
  expect(found.map(row => row.proposal?.length ?? 0)).toEqual([1, 0, 1, 0])
  expect(found.map(row => row.goesTo)).toEqual(Array(4).fill({ item: null, account: '4000' }))
  await saveRoutes(database, actor, { changed: found.flatMap(row => row.proposal ?? []), removed: [] })
  const after = await seen()
  expect(after.map(row => [row.goesTo?.item ?? null, row.proposal])).toEqual([
    ['BOWL-L', null],
    [null, null],
    ['MUG-B', null],
    [null, null],
  ])
  // Somebody forgets the name: the route stays what was saved, the product finds nothing by itself any more.
  await saveItems(database, actor, [{ ...(items[1] as (typeof items)[number]), otherNames: [] }])
  const [, , mug] = await seen()
  expect(mug).toMatchObject({ sku: 'FS-77', found: 'none', goesTo: { item: 'MUG-B' }, proposal: null })
  // Its route taken off, the wider one serves it again.
  await saveRoutes(database, actor, { changed: [], removed: mug?.ownRoutes ?? [] })
  expect((await seen())[2]).toMatchObject({ goesTo: { item: null, account: '4000' }, ownRoutes: [] })
})

it('the contact that a rule sets stands on the lines of the entry, and tells them apart', async () => {
  const actor = await makeClient(database, 'Contacts')
  await saveRoutes(database, actor, {
    changed: [madeRoute('refund', { account: '4000', taxCode: 'S23' })],
    removed: [],
  })
  await saveRules(database, actor, [
    {
      id: 1,
      conditions: [{ field: 'customer', is: 'containing', value: 'Brae' }],
      actions: [{ set: 'contact', contact: 'Brae & Daughters' }],
    },
  ])
  await upload(
    database,
    actor,
    csvOf([
      sale('1', 'A', 'Bowl', '123.00', { customer: 'Tomas Brae' }),
      sale('2', 'A', 'Bowl', '246.00', { customer: 'Una Reddy' }),
      sale('3', 'A', 'Bowl', '-369.00', { kind: 'payout' }),
    ]),
  )
  await postSettlements(database, actor, await settlementKeys(database, actor))
  const lines = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      {},
      sql`SELECT l.account, l.segments, l.amount FROM entry_line l JOIN entry e USING (client_id, fiscal_year, number)
        WHERE e.document = 'journal' ORDER BY l.line_no`,
    ),
  )
  expect(lines).toEqual([
    { account: '1210', segments: '', amount: 36_900 },
    { account: '2200', segments: '', amount: -6900 },
    { account: '4000', segments: '', amount: -20_000 },
    { account: '4000', segments: 'contact=Brae & Daughters', amount: -10_000 },
  ])
  const totals = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      {},
      sql`SELECT segments, (debit - credit)::bigint AS amount FROM account_total WHERE account = '4000' ORDER BY segments`,
    ),
  )
  expect(totals).toEqual([
    { segments: '', amount: -20_000 },
    { segments: 'contact=Brae & Daughters', amount: -10_000 },
  ])
})
