import { expect, it } from 'vitest'
import { foldSeen, isUnmapped, type NotedRoute, type SeenWays, type SeenWeek } from './foldSeen.ts'
import { routeBook } from './resolveRoute.ts'

const week = (kind: SeenWeek['kind'], amount: number, more: Partial<SeenWeek> = {}): SeenWeek => ({
  kind,
  category: '',
  region: '',
  gateway: '',
  method: '',
  matched: false,
  amount,
  lines: 1,
  ...more,
})

const route = (kind: NotedRoute['kind'], account: string, more: Partial<NotedRoute> = {}): NotedRoute => ({
  kind,
  source: null,
  sku: null,
  category: null,
  location: null,
  method: null,
  gateway: null,
  taxLabel: null,
  region: null,
  from: null,
  account,
  item: null,
  elsewhere: false,
  taxCode: null,
  segments: {},
  block: false,
  reason: '',
  id: 1,
  ...more,
})

const ways = (...routes: NotedRoute[]): SeenWays => ({
  source: 'fernstall',
  date: '2026-03-31',
  serve: routeBook(routes).serve,
  labels: new Map([['card', 'brookpay']]),
  clearing: new Set(['fernstall', 'brookpay']),
})

it('lines that one route serves are one row, whatever they say beside what it names', () => {
  const rows = foldSeen(
    [
      week('sale', 1000, { category: 'Tableware', region: 'IE' }),
      week('sale', 500, { category: 'Tableware', region: 'FR' }),
      week('sale', 300, { category: 'Books', region: 'IE' }),
    ],
    ways(route('sale', '4000'), route('sale', '4030', { category: 'Books' })),
  )
  expect(rows.map(row => [row.category, row.amount, row.lines, row.narrow])).toEqual([
    [null, 1500, 2, false],
    ['Books', 300, 1, true],
  ])
})

it('what has no route is told apart by what it could be routed by, and comes first', () => {
  const rows = foldSeen(
    [
      week('sale', 9000),
      week('selling_fee', -50, { category: 'Listing' }),
      week('selling_fee', -20),
      week('payout', -10),
    ],
    ways(route('sale', '4000')),
  )
  expect(rows.map(row => [row.kind, row.category, isUnmapped(row)])).toEqual([
    ['selling_fee', 'Listing', true],
    ['selling_fee', null, true],
    ['sale', null, false],
    // A payout goes to its bank account: it needs no route.
    ['payout', null, false],
  ])
})

it('a tender whose label stands for a gateway finds its way by itself, as does a collection that a tender has booked', () => {
  const rows = foldSeen(
    [
      week('tender', -700, { gateway: 'card' }),
      week('tender', -90, { gateway: 'cheque' }),
      week('collected', 400, { matched: true }),
      week('collected', 30),
    ],
    ways(),
  )
  const found = rows.map(row => [row.kind, row.gateway, row.byItself?.to ?? null, row.byItself?.source ?? null])
  expect(found).toEqual([
    ['tender', 'cheque', null, null],
    ['collected', null, null, null],
    ['tender', null, 'gateway', 'brookpay'],
    ['collected', null, 'tender', 'fernstall'],
  ])
})
