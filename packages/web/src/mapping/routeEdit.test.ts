import { type MappingPage, routeBody, type SeenRow } from '@culvert/contract'
import { expect, it } from 'vitest'
import { editOf, elsewhere, isWhole, otherTargets, routeOf } from './routeEdit.ts'

const nothing = { account: null, item: null, elsewhere: false, taxCode: null }
const row = (more: Partial<SeenRow> = {}): SeenRow => ({
  kind: 'sale',
  category: 'Books',
  region: 'DE',
  gateway: null,
  method: null,
  byItself: null,
  sharedWith: [],
  amount: 100,
  lines: 1,
  unmapped: true,
  route: null,
  narrow: false,
  sample: null,
  proposal: null,
  ...more,
})

it('is whole once it points somewhere; a tax code alone will do for what is all tax', () => {
  expect(isWhole('sale', nothing)).toBe(false)
  expect(isWhole('sale', { ...nothing, taxCode: 'S23' })).toBe(false)
  expect(isWhole('tax', { ...nothing, taxCode: 'S23' })).toBe(true)
  expect(isWhole('sale', { ...nothing, item: 'MUG' })).toBe(true)
  expect(isWhole('sale', { ...nothing, elsewhere: true })).toBe(true)
})

it('makes a route that names what its row names, or changes the row’s own and nothing else of it', () => {
  expect(routeOf(row(), { ...nothing, account: '4030' }, 'openhall')).toMatchObject({
    routeId: null,
    source: 'openhall',
    kind: 'sale',
    category: 'Books',
    region: 'DE',
    account: '4030',
  })
  const route = routeBody.parse({ routeId: 7, kind: 'sale', account: '4000', taxCode: 'S23', segments: { shelf: 'a' } })
  const known = row({ route, unmapped: false })
  expect(editOf(known)).toEqual({ account: '4000', item: null, elsewhere: false, taxCode: 'S23' })
  expect(routeOf(known, { ...editOf(known), account: null, item: 'MUG' }, 'openhall')).toEqual({
    ...route,
    account: null,
    item: 'MUG',
  })
  // One that serves another source too stays as it is for that one.
  const shared = { ...known, sharedWith: ['Brookpay'] }
  expect(routeOf(shared, { ...editOf(known), account: '4010' }, 'openhall')).toEqual({
    ...route,
    routeId: null,
    source: 'openhall',
    account: '4010',
  })
})

it('offers the items, and that something else books it', () => {
  const page = { items: [{ code: 'MUG', name: 'Mug', account: '4000', taxCode: null }] } as unknown as MappingPage
  expect(otherTargets(page).map(target => target.key)).toEqual(['MUG', elsewhere])
})
