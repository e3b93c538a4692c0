import { bucketKey, composeSettlement, type Resolution, type Rule, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MapRefused } from '../access/mapRefused.ts'
import { resolveStored, settlementLines } from '../activity/activityLines.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { loadActivity } from '../composing/loadActivity.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import {
  booksOf,
  csvOf,
  madeRoute,
  makeClient,
  makeWeeks,
  type Row,
  settlementKeys,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { loadRulesPage } from './loadRules.ts'
import { loadStarter } from './loadStarter.ts'
import { saveItems } from './saveItems.ts'
import { saveRoutes } from './saveRoutes.ts'
import { saveRules } from './saveRules.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'
import { countTouchedLines } from './touchedLines.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const names = ['Orla Quill', 'B. Fitch', 'ORLA QUILL', '']
const wares = ['Mug, speckled', 'Serving bowl, glazed', 'Glaze kit', '']
/** Weeks whose lines name customers and wares, so that rules have something to look at. */
const tellingWeeks = (count: number, orders: number): { lines: Row[]; heads: Row[] } => {
  const weeks = makeWeeks(count, orders)
  return {
    heads: weeks.heads,
    lines: weeks.lines.map((line, index) => ({
      ...line,
      customer: names[index % 4] as string,
      description: `"${wares[index % 4]}"`,
      sku: line.kind === 'sale' && index % 5 === 0 ? 'MUG' : '',
    })),
  }
}
const rules: readonly Rule[] = [
  {
    id: 7,
    conditions: [
      { field: 'kind', is: 'equal', value: 'sale' },
      { field: 'customer', is: 'containing', value: 'quill' },
    ],
    actions: [{ set: 'account', account: '4100' }],
  },
  {
    id: 3,
    conditions: [
      { field: 'amount', is: 'between', low: 2000, high: 9000 },
      { field: 'localDate', is: 'before', value: '2026-01-15' },
      {
        is: 'several',
        atLeast: 1,
        of: [
          { field: 'description', is: 'containing', value: 'GLAZE' },
          { field: 'sku', is: 'equal', value: 'mug' },
        ],
      },
    ],
    actions: [
      { set: 'account', account: '4000' },
      { set: 'tax_code', taxCode: null },
      { set: 'segment', name: 'look', value: 'glazed' },
    ],
  },
]
const bring = async (
  actor: Actor,
  weeks: { lines: readonly Row[]; heads: readonly Row[] },
): Promise<SettlementKey[]> => {
  await upload(database, actor, csvOf(weeks.heads), 'settlements.csv')
  await upload(database, actor, csvOf(weeks.lines))
  return settlementKeys(database, actor)
}
const journalOf = (actor: Actor, key: SettlementKey) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { account: is.text, segments: is.text, taxCode: is.text, amount: is.minor },
      sql`SELECT l.account, l.segments, l.tax_code AS "taxCode", sum(l.amount)::bigint AS amount FROM entry e JOIN entry_line l
        ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
      WHERE e.source = ${key.source} AND e.key = ${key.key} AND e.document IN ('journal', 'correction')
      GROUP BY 1, 2, 3 HAVING sum(l.amount) <> 0 ORDER BY 1, 2, 3`,
    ),
  )

describe('rules', () => {
  let actor: Actor
  let keys: SettlementKey[]
  beforeAll(async () => {
    actor = await makeClient(database, 'By rules')
    keys = await bring(actor, tellingWeeks(3, 30))
    await saveRules(database, actor, rules)
  })

  it('are kept in their order, with what each touched of the last 13 weeks', async () => {
    const page = await asClient(database, actor, loadRulesPage)
    expect(page.rules).toEqual(rules)
    const counted = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { quill: is.whole, amount: is.minor, glazed: is.whole },
        sql`SELECT count(*) FILTER (WHERE kind = 'sale' AND customer ILIKE '%quill%')::int AS quill,
          (sum(amount) FILTER (WHERE kind = 'sale' AND customer ILIKE '%quill%'))::bigint AS amount,
          count(*) FILTER (WHERE amount BETWEEN 2000 AND 9000 AND local_date < '2026-01-15'
            AND (description ILIKE '%glaze%' OR lower(sku) = 'mug'))::int AS glazed FROM line_as_of`,
      ),
    )
    const [quill, glazed] = page.touched
    expect([quill?.met, quill?.decides, quill?.amount]).toEqual([
      counted[0]?.quill,
      counted[0]?.quill,
      counted[0]?.amount,
    ])
    expect([glazed?.met, (glazed?.met ?? 0) > 3]).toEqual([counted[0]?.glazed, true])
  })

  it('can be counted before they are saved', async () => {
    const draft: Rule = {
      id: 1,
      conditions: [{ field: 'kind', is: 'equal', value: 'payout' }],
      actions: [{ set: 'block' }],
    }
    const { touched } = await asClient(database, actor, tx => countTouchedLines(tx, [draft]))
    expect(touched).toMatchObject([{ id: 1, met: 3, decides: 3 }])
  })

  it('book lines added up in the database as they would book single ones', async () => {
    const { client, activities, lines } = await asClient(database, actor, async tx => {
      const setup = await loadSetup(tx)
      const stored = []
      for (const key of keys) stored.push(await settlementLines(tx, key, 'now'))
      return { client: setup, activities: await loadActivity(tx, setup, { keys }), lines: stored }
    })
    for (const [index, { activity }] of activities.entries()) {
      const { entries, allocations } = composeSettlement(activity, client.setup)
      const grouped = new Map<string, number>()
      for (const { bucket, index: at } of allocations)
        grouped.set(bucket, (grouped.get(bucket) ?? 0) + (activity.lines[at]?.amount ?? 0))
      const single = new Map<string, number>()
      for (const line of lines[index] ?? []) {
        const resolution = resolveStored(line, client, null)[0]?.resolution as Resolution
        if (!resolution.ok || resolution.elsewhere || line.kind === 'payout') continue
        single.set(bucketKey(resolution), (single.get(bucketKey(resolution)) ?? 0) + line.amount)
      }
      expect([...grouped].sort()).toEqual([...single].sort())
      if (index === 0) expect(entries[0]?.lines.some(line => line.segments === 'look=glazed')).toBe(true)
    }
  })

  it('stay with what they booked when they change: a correction goes by the rules it was posted under', async () => {
    const [key] = keys as [SettlementKey]
    await postSettlements(database, actor, [key])
    const posted = await journalOf(actor, key)
    await saveRules(database, actor, [])
    // Two sales change their amounts over: the settlement still foots, one customer's income does not stay.
    const { lines } = tellingWeeks(3, 30)
    const changed = lines.with(0, { ...(lines[0] as Row), amount: lines[3]?.amount ?? '' })
    await upload(database, actor, csvOf(changed.with(3, { ...(lines[3] as Row), amount: lines[0]?.amount ?? '' })))
    expect(await bookCorrection(database, actor, key)).toMatchObject({ ok: true, entries: 1 })
    const corrected = await journalOf(actor, key)
    const income = (rows: typeof posted) =>
      sumMinor(
        rows.filter(row => row.account === '4100'),
        row => row.amount,
      )
    expect(income(corrected)).not.toBe(income(posted))
    expect(corrected.some(row => row.segments === 'look=glazed')).toBe(true)
    const { balances } = await booksOf(database, actor)
    for (const row of balances) expect(row.totals).toBe(row.lines)
  })

  it('that block hold settlements up, and let them go when they are taken away', async () => {
    const blocking: Rule = {
      id: 1,
      conditions: [{ field: 'description', is: 'containing', value: 'glaze kit' }],
      actions: [{ set: 'block' }],
    }
    await saveRules(database, actor, [blocking])
    const outcome = await postSettlements(database, actor, keys.slice(1))
    expect(outcome.notPosted.map(one => one.reason)).toEqual(['blocked', 'blocked'])
    await saveRules(database, actor, [])
    expect((await postSettlements(database, actor, keys.slice(1))).posted).toHaveLength(2)
  })

  it('are refused with every fault, and nothing is changed', async () => {
    const bad: Rule = { id: 1, conditions: [], actions: [{ set: 'account', account: 'nowhere' }] }
    const refused = await saveRules(database, actor, [bad]).catch((error: unknown) => error)
    expect(refused).toBeInstanceOf(MapRefused)
    expect((refused as MapRefused).found.faults.map(fault => fault.code)).toEqual(['no_conditions', 'unknown_account'])
  })
})

describe('a route', () => {
  it('to an item takes the item’s account and tax code; one elsewhere leaves its lines out of the entry', async () => {
    const actor = await makeClient(database, 'Items and elsewhere')
    const [key] = (await bring(actor, tellingWeeks(1, 40))) as [SettlementKey]
    await saveItems(database, actor, [
      {
        code: 'MUG',
        name: 'Mug, speckled',
        otherNames: [],
        account: '4100',
        taxCode: null,
        costs: [{ from: '2026-01-01', cost: 425 }],
      },
    ])
    await saveRoutes(database, actor, {
      changed: [
        madeRoute('sale', { sku: 'MUG', item: 'MUG' }),
        madeRoute('shipping', { source: 'openhall', elsewhere: true }),
      ],
      removed: [],
    })
    const sums = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { mugs: is.whole, shipping: is.whole, clearing: is.whole },
        sql`SELECT (sum(amount) FILTER (WHERE sku = 'MUG'))::bigint AS mugs, (sum(amount) FILTER (WHERE kind = 'shipping'))::bigint AS shipping,
          (sum(amount) FILTER (WHERE kind NOT IN ('shipping', 'payout')))::bigint AS clearing FROM activity_line`,
      ),
    )
    await postSettlements(database, actor, [key])
    const journal = await journalOf(actor, key)
    expect(journal.find(row => row.account === '4100')?.amount).toBe(-(sums[0]?.mugs ?? 0))
    expect(journal.find(row => row.account === '1210')?.amount).toBe(sums[0]?.clearing)
    expect(sums[0]?.shipping).toBeGreaterThan(0)
  })

  it('to an item that is not there is refused', async () => {
    const actor = await makeClient(database, 'No such item')
    const refused = await saveRoutes(database, actor, {
      changed: [madeRoute('sale', { sku: 'X', item: 'X' })],
      removed: [],
    }).catch((error: unknown) => error)
    expect((refused as MapRefused).found.faults).toMatchObject([{ code: 'unknown_item', item: 'X' }])
  })
})

it('refuses a tax code that could not be computed with', async () => {
  const actor = await makeClient(database, 'Bad tax code')
  const refused = await saveTaxCodes(database, actor, [
    {
      code: 'X',
      name: 'X',
      treatment: 'exempt',
      basis: 'inclusive',
      use: 'sales',
      reverseCharge: true,
      country: null,
      recovery: [],
      components: [
        {
          name: 'X',
          account: '2200',
          inputAccount: null,
          compound: true,
          rates: [{ from: '2026-01-01', percent: '23' }],
        },
      ],
    },
  ]).catch((error: unknown) => error)
  expect((refused as MapRefused).found.faults.map(fault => fault.code)).toEqual([
    'no_input_account',
    'compound_first',
    'taxes_untaxed',
  ])
})

it('proposes routes for what no route serves, heaviest first, and accounts to make where none fits', async () => {
  const actor = await makeClient(database, 'Starter')
  const weeks = makeWeeks(1, 5)
  const line = (name: string, kind: string, amount: string, more: Row = {}): Row => ({
    ...(weeks.lines[0] as Row),
    line_id: name,
    kind,
    amount,
    ...more,
  })
  await upload(
    database,
    actor,
    csvOf([
      ...weeks.lines,
      line('a', 'tip', '5.00'),
      line('b', 'tender', '-900.00', { gateway: 'Cash' }),
      line('c', 'shipping_refund', '-6.50'),
      line('d', 'tip', '2.00'),
    ]),
  )
  const rows = await asClient(database, actor, tx => loadStarter(tx, 'openhall'))
  expect(rows.map(({ kind, gateway, amount, lines }) => [kind, gateway, amount, lines])).toEqual(
    [
      ['tender', 'Cash', -90_000, 1],
      ['tip', null, 700, 2],
      ['shipping_refund', null, -650, 1],
    ].sort((left, right) => Math.abs(right[2] as number) - Math.abs(left[2] as number)),
  )
  expect(rows.find(row => row.kind === 'shipping_refund')).toMatchObject({
    proposal: { account: '4100' },
    taxCode: 'S23',
    taxedLike: 'shipping',
    taxOpen: false,
  })
  expect(rows.find(row => row.kind === 'tender')?.make).toEqual({ name: 'Cash', type: 'current_asset' })
  expect(rows.find(row => row.kind === 'tip')).toMatchObject({ proposal: null, make: { type: 'current_liability' } })
})

it('makes a charge of what a source calls a tax, where its route goes to income, and a tax of it where not', async () => {
  const actor = await makeClient(database, 'Bag levy')
  const weeks = makeWeeks(1, 2)
  const first = weeks.lines[0] as Row
  await upload(
    database,
    actor,
    csvOf([
      { ...first, line_id: 'levy', kind: 'tax', amount: '2.46', tax_label: 'Bag levy', settlement_id: 'T' },
      { ...first, line_id: 'vat', kind: 'tax', amount: '23.00', tax_label: 'VAT', settlement_id: 'T' },
    ]),
  )
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('tax', { account: '4100', taxCode: 'S23', taxLabel: 'Bag levy' }),
      madeRoute('tax', { taxCode: 'S23' }),
    ],
    removed: [],
  })
  await postSettlements(database, actor, [{ source: 'openhall', key: 'T', currency: 'EUR' }])
  const journal = await journalOf(actor, { source: 'openhall', key: 'T', currency: 'EUR' })
  // 2.46 hold 0.46 at 23 percent; the 23.00 are tax through and through.
  expect(journal.map(({ account, amount }) => [account, amount])).toEqual([
    ['1210', 2546],
    ['2200', -2346],
    ['4100', -200],
  ])
})
