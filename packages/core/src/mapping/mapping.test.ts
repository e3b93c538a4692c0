import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { RoutingValues } from '../activity/activityLine.ts'
import { checkRoutes } from './checkRoutes.ts'
import { routeBook } from './resolveRoute.ts'
import { type Conditions, conditionNames, type Route, segmentsText } from './route.ts'
import { proposeAccount } from './starterMap.ts'

const line = (values: Partial<RoutingValues> = {}, localDate = '2026-03-10') => ({
  source: 'openhall',
  kind: 'sale' as const,
  category: null,
  sku: null,
  location: null,
  gateway: null,
  method: null,
  taxLabel: null,
  region: null,
  localDate,
  ...values,
})
let id = 0
const route = (conditions: Conditions, account: string, from: string | null = null): Route => ({
  id: ++id,
  kind: 'sale',
  account,
  taxCode: null,
  segments: {},
  block: false,
  from,
  ...conditions,
})
const served = (routes: Route[], values: Partial<RoutingValues>, date?: string) =>
  routeBook(routes).serve(line(values, date))?.account ?? null

describe('the route that serves a line', () => {
  it('is the one that names the first deciding condition', () => {
    const routes = [
      route({}, 'wide'),
      route({ region: 'DE', source: 'openhall' }, 'region'),
      route({ category: 'Books' }, 'category'),
      route({ sku: 'MUG' }, 'sku'),
    ]
    expect(served(routes, { region: 'DE', category: 'Books', sku: 'MUG' })).toBe('sku')
    expect(served(routes, { region: 'DE', category: 'Books' })).toBe('category')
    expect(served(routes, { region: 'DE' })).toBe('region')
    expect(served(routes, {})).toBe('wide')
  })
  it('takes a country’s parts, but the part before the country and before the source', () => {
    const routes = [route({ region: 'CA', source: 'openhall' }, 'country'), route({ region: 'CA-QC' }, 'part')]
    expect([
      served(routes, { region: 'CA-QC' }),
      served(routes, { region: 'CA-ON' }),
      served(routes, { region: 'CA' }),
      served(routes, { region: 'CAX' }),
    ]).toEqual(['part', 'country', 'country', null])
  })
  it('is the latest in force on the date', () => {
    const routes = [route({}, 'old', '2026-01-01'), route({}, 'new', '2026-03-05')]
    expect([
      served(routes, {}, '2025-12-31'),
      served(routes, {}, '2026-03-04'),
      served(routes, {}, '2026-03-05'),
    ]).toEqual([null, 'old', 'new'])
  })
  it('says why: what each other route that would serve it is behind in', () => {
    const routes = [
      route({}, 'wide', '2026-01-01'),
      route({}, 'wider, older'),
      route({ region: 'CA' }, 'country'),
      route({ region: 'CA-QC' }, 'part'),
      route({ sku: 'MUG', region: 'CA-QC' }, 'sku'),
      route({ sku: 'BOWL' }, 'another'),
    ]
    const choice = routeBook(routes).explain(line({ sku: 'MUG', region: 'CA-QC' }))
    expect([choice?.route.account, ...(choice?.over ?? []).map(one => `${one.route.account} by ${one.by}`)]).toEqual([
      'sku',
      'part by sku',
      'country by sku',
      'wide by sku',
      'wider, older by sku',
    ])
    const plain = routeBook(routes).explain(line({ region: 'CA-QC' }))
    expect(plain?.over.map(one => one.by)).toEqual(['region', 'region', 'region'])
    expect(
      routeBook(routes)
        .explain(line())
        ?.over.map(one => one.by),
    ).toEqual(['from'])
    expect(routeBook([]).explain(line())).toBeNull()
  })
  it('compares letter case and meets no condition with an empty value', () => {
    const routes = [route({ category: 'books' }, 'lower')]
    expect([served(routes, { category: 'Books' }), served(routes, { category: '' })]).toEqual([null, null])
  })
  it('stays the same when a wider route is added', () => {
    const value = fc.constantFrom('a', 'b')
    const conditions = fc.record(Object.fromEntries(conditionNames.map(name => [name, fc.option(value)])))
    fc.assert(
      fc.property(fc.array(conditions, { maxLength: 6 }), conditions, (given, values) => {
        const routes = given.map((one, index) => route(one as Conditions, `r${index}`))
        const before = routeBook(routes).serve(line(values as Partial<RoutingValues>))
        const after = routeBook([...routes, route({}, 'wide')]).serve(line(values as Partial<RoutingValues>))
        if (before && conditionNames.some(name => before[name])) expect(after).toBe(before)
      }),
    )
  })
})

it('finds routes that are alike, point nowhere or point oddly', () => {
  const accounts = new Map([
    ['4000', { type: 'income' as const }],
    ['1000', { type: 'bank' as const }],
  ])
  const routes = [
    route({ category: 'Books' }, '4000'),
    route({ category: 'Books' }, '4000'),
    route({ sku: 'X' }, '9999'),
    route({ sku: 'Y' }, '1000'),
    { ...route({ sku: 'Z' }, '4000'), taxCode: 'NO' },
  ]
  const { faults, warnings } = checkRoutes(routes, { accounts, taxCodes: new Set(['S23']) })
  expect(faults.map(fault => fault.code).sort()).toEqual(['alike', 'unknown_account', 'unknown_tax_code'])
  expect(warnings).toMatchObject([{ code: 'unlike_account_type', account: '1000' }])
})

it('refuses a route to the source’s own clearing account, and warns of one to another’s', () => {
  const accounts = new Map([
    ['1210', { type: 'clearing' as const }],
    ['1220', { type: 'clearing' as const }],
    ['1230', { type: 'clearing' as const }],
  ])
  const clearing = new Map([
    ['1210', [{ source: 'openhall', shape: 'combined' as const }]],
    ['1220', [{ source: 'fernstall', shape: 'channel' as const }]],
    ['1230', [{ source: 'brookpay', shape: 'gateway' as const }]],
  ])
  const checked = (conditions: Partial<Route>, account: string) => {
    const { faults, warnings } = checkRoutes([{ ...route({}, account), ...conditions }], {
      accounts,
      taxCodes: new Set(),
      clearing,
    })
    return [...faults, ...warnings].map(one => one.code).filter(code => code.endsWith('clearing'))
  }
  expect(checked({ source: 'openhall' }, '1210')).toEqual(['own_clearing'])
  // Without a source it serves Openhall’s lines as well.
  expect(checked({}, '1210')).toEqual(['own_clearing'])
  expect(checked({ source: 'brookpay', kind: 'processing_fee' }, '1210')).toEqual(['other_clearing'])
  expect(checked({ kind: 'tender', gateway: 'card' }, '1230')).toEqual([])
  expect(checked({ kind: 'tender', source: 'fernstall' }, '1230')).toEqual([])
  expect(checked({ kind: 'tender' }, '1220')).toEqual(['own_clearing'])
  expect(checked({ source: 'openhall', block: true }, '1210')).toEqual([])
})

it('writes segments in order, their marks escaped', () => {
  expect(segmentsText({ sku: 'a=b;c', category: 'x\\y' })).toBe('category=x\\\\y;sku=a\\=b\\;c')
})

it('proposes an account by its words, of a type that fits', () => {
  const chart = [
    { code: '1000', name: 'Shipping bank', type: 'bank' as const },
    { code: '4100', name: 'Shipping charged', type: 'income' as const },
    { code: '4000', name: 'Sales', type: 'income' as const },
  ]
  expect(proposeAccount({ kind: 'shipping', category: null }, chart)).toMatchObject({
    account: '4100',
    words: ['shipping'],
  })
  expect(proposeAccount({ kind: 'tip', category: null }, chart)).toBeNull()
})
