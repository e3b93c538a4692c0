import { describe, expect, it } from 'vitest'
import type { WeightedLine } from '../activity/activityLine.ts'
import { zoneOf } from '../activity/zone.ts'
import { bookActivity } from '../composing/bookActivity.ts'
import { resolveLine } from '../composing/resolveLine.ts'
import type { Source } from '../composing/setup.ts'
import { madeRoute, madeSetup } from '../testing/madeSetup.ts'
import { checkRules } from './checkRules.ts'
import {
  applyRules,
  countTouched,
  fieldsOf,
  meetsRule,
  type Rule,
  type RuleAction,
  type RuleCondition,
} from './rule.ts'

const line = (values: Partial<WeightedLine> = {}): WeightedLine => ({
  source: 'openhall',
  kind: 'sale',
  category: 'Tableware',
  sku: 'BOWL-2',
  location: null,
  gateway: null,
  method: null,
  taxLabel: null,
  region: 'DE',
  localDate: '2026-03-10',
  amount: 4950,
  taxAmount: null,
  count: 1,
  texts: { description: 'Serving bowl, GLAZED', customer: 'Quill, Orla' },
  ...values,
})
const rule = (
  id: number,
  conditions: readonly RuleCondition[],
  actions: readonly RuleAction[] = [{ set: 'block' }],
): Rule => ({
  id,
  conditions,
  actions,
})

describe('a condition', () => {
  const conditions: readonly [RuleCondition, boolean][] = [
    [{ field: 'category', is: 'equal', value: 'tableware' }, true],
    [{ field: 'category', is: 'equal', value: 'Table' }, false],
    [{ field: 'location', is: 'equal', value: '' }, false],
    [{ field: 'description', is: 'containing', value: 'glaze' }, true],
    [{ field: 'description', is: 'containing', value: '' }, false],
    [{ field: 'sku', is: 'starting', value: 'bowl-' }, true],
    [{ field: 'sku', is: 'starting', value: '2' }, false],
    [{ field: 'region', is: 'one_of', values: ['FR', 'de'] }, true],
    [{ field: 'region', is: 'one_of', values: [] }, false],
    [{ field: 'kind', is: 'equal', value: 'sale' }, true],
    [{ field: 'amount', is: 'between', low: 4950, high: 4950 }, true],
    [{ field: 'amount', is: 'between', low: 4951, high: 9999 }, false],
    [{ field: 'taxAmount', is: 'between', low: 0, high: 9999 }, false],
    [{ field: 'localDate', is: 'between', low: '2026-03-10', high: '2026-03-10' }, true],
    [{ field: 'localDate', is: 'before', value: '2026-03-10' }, false],
    [{ field: 'localDate', is: 'before', value: '2026-03-11' }, true],
    [{ field: 'localDate', is: 'after', value: '2026-03-10' }, false],
    [{ field: 'localDate', is: 'after', value: '2026-03-09' }, true],
    [
      {
        is: 'several',
        atLeast: 2,
        of: [
          { field: 'region', is: 'equal', value: 'DE' },
          { field: 'customer', is: 'containing', value: 'quill' },
          { field: 'method', is: 'equal', value: 'card' },
        ],
      },
      true,
    ],
    [{ is: 'several', atLeast: 2, of: [{ field: 'region', is: 'equal', value: 'DE' }] }, false],
  ]
  it.each(conditions)('%j is met: %s', (condition, met) => expect(meetsRule(rule(1, [condition]), line())).toBe(met))
  it('looks at the amount of each line that a weighted line stands for', () => {
    const one = rule(1, [{ field: 'amount', is: 'between', low: 1000, high: 2000 }])
    expect([meetsRule(one, line({ amount: 4500, count: 3 })), meetsRule(one, line({ amount: 4500 }))]).toEqual([
      true,
      false,
    ])
  })
})

describe('ordered rules', () => {
  const german = rule(
    1,
    [{ field: 'region', is: 'equal', value: 'DE' }],
    [
      { set: 'account', account: '4010' },
      { set: 'segment', name: 'land', value: 'DE' },
    ],
  )
  const bowls = rule(
    2,
    [{ field: 'sku', is: 'starting', value: 'bowl' }],
    [
      { set: 'account', account: '4100' },
      { set: 'tax_code', taxCode: null },
      { set: 'segment', name: 'land', value: 'any' },
      { set: 'segment', name: 'ware', value: 'bowl' },
      { set: 'contact', contact: 'Tern & Tally' },
    ],
  )
  it('let the first that sets a field win that field, and later ones the rest', () =>
    expect(applyRules([german, bowls], line())).toEqual({
      account: '4010',
      taxCode: null,
      segments: { land: 'DE', ware: 'bowl' },
      contact: 'Tern & Tally',
      block: false,
      rules: [1, 2],
    }))
  it('do not name a rule that set nothing new', () =>
    expect(applyRules([german, { ...german, id: 3 }], line()).rules).toEqual([1]))
  it('win over the route, serve what no route serves, and block', () => {
    const resolved = (rules: readonly Rule[], values: Partial<WeightedLine> = {}) => {
      const setup = madeSetup({
        rules,
        routes: [madeRoute('sale', '4000', 'IN', { segments: { land: 'x', till: '1' } })],
      })
      return resolveLine(line(values), setup, setup.sources.get('openhall') as Source, 'EUR')
    }
    expect(resolved([german])).toMatchObject({ ok: true, account: '4010', segments: 'land=DE;till=1', rules: [1] })
    expect(resolved([german], { kind: 'tip' })).toMatchObject({ ok: true, account: '4010', route: null })
    expect(resolved([], { kind: 'tip' })).toMatchObject({ ok: false, reasons: ['unmapped'] })
    expect(resolved([rule(4, [{ field: 'kind', is: 'equal', value: 'sale' }])])).toMatchObject({
      ok: false,
      reasons: ['rule'],
    })
  })
  it('see the texts of single lines', () => {
    const byCustomer = rule(
      5,
      [{ field: 'customer', is: 'containing', value: 'quill' }],
      [{ set: 'account', account: '4100' }],
    )
    const setup = madeSetup({ rules: [byCustomer] })
    const { texts: _, localDate, count, ...values } = line({ sku: null, region: null })
    const single = {
      ...values,
      lineId: 'L1',
      settlementId: null,
      occurredAt: `${localDate}T10:00:00Z`,
      instant: Date.parse(`${localDate}T10:00:00Z`),
      orderId: null,
      description: null,
      quantity: String(count),
      unitPrice: null,
      customer: 'Orla Quill',
      email: null,
      shipTo: null,
      currency: 'EUR',
      relatedId: null,
      status: 'available' as const,
      availableAt: null,
      url: null,
      extra: {},
    }
    const booked = bookActivity(
      { lines: [single], heads: new Map(), zone: zoneOf('Europe/Dublin'), cutOffMinutes: 0 },
      setup,
    )
    expect(booked.settlements[0]?.composed.entries[0]?.lines.map(one => one.account)).toContain('4100')
  })
  it('say how many lines each meets, and for how many it decides', () => {
    const lines = [line({ count: 3, amount: 300 }), line({ region: 'IE', count: 2, amount: 500 }), line({ sku: 'MUG' })]
    expect([...countTouched([german, { ...bowls, actions: bowls.actions.slice(0, 1) }], lines)]).toEqual([
      [1, { met: 4, decides: 4, amount: 5250 }],
      [2, { met: 5, decides: 2, amount: 800 }],
    ])
  })
  it('name the fields they look at, those of counted conditions too', () =>
    expect([
      ...fieldsOf([
        german,
        rule(9, [{ is: 'several', atLeast: 1, of: [{ field: 'amount', is: 'between', low: 0, high: 1 }] }]),
      ]),
    ]).toEqual(['region', 'amount']))
})

it('finds what keeps rules from being saved', () => {
  const never: RuleCondition = { field: 'amount', is: 'between', low: 2, high: 1 }
  const faults = checkRules(
    [
      rule(
        1,
        [{ field: 'sku', is: 'equal', value: 'x' }],
        [
          { set: 'account', account: '9999' },
          { set: 'tax_code', taxCode: 'NO' },
          { set: 'tax_code', taxCode: null },
        ],
      ),
      rule(1, [], []),
      rule(2, [never]),
      rule(3, [{ is: 'several', atLeast: 2, of: [{ field: 'sku', is: 'equal', value: 'x' }, never] }]),
    ],
    { accounts: new Set(['4000']), taxCodes: new Set(['IN']) },
  )
  expect(faults.map(fault => `${fault.rule} ${fault.code}`)).toEqual([
    '1 unknown_account',
    '1 unknown_tax_code',
    '1 id_twice',
    '1 no_conditions',
    '1 no_actions',
    '2 never_met',
    '3 never_met',
  ])
})
