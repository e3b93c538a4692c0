import { expect, test } from 'vitest'
import { accountTypes, kinds } from '../activity/kinds.ts'
import { proposeAccount } from './starterMap.ts'
import { startingChart } from './startingCharts.ts'

const places = [
  ['IE', 'en-IE'],
  ['US', 'en-US'],
  ['CA', 'en-CA'],
  ['DE', 'de-DE'],
  ['FR', 'fr-FR'],
  ['ES', 'es-ES'],
  ['IT', 'it-IT'],
  ['NL', 'nl-NL'],
] as const

test.each(places)('%s: every account has a number of its own, a name and a type', (country, locale) => {
  const { accounts } = startingChart(country, locale)
  expect(accounts).toHaveLength(30)
  expect(new Set(accounts.map(one => one.code)).size).toBe(30)
  expect(new Set(accounts.map(one => one.name)).size).toBe(30)
  for (const { code, name, type } of accounts) {
    expect(code).toMatch(/^\d{4,6}$/)
    expect(name.length).toBeGreaterThan(2)
    expect(accountTypes).toContain(type)
  }
})

/** What each chart was written for: the account by its place in the list. */
const meant = [
  ['sale', 14],
  ['shipping', 15],
  ['refund', 16],
  ['discount', 17],
  ['processing_fee', 20],
  ['selling_fee', 21],
  ['fulfilment_fee', 22],
  ['advertising_fee', 23],
  ['subscription_fee', 24],
  ['gift_card_sold', 7],
  ['advance_received', 8],
  ['tip', 9],
  ['reserve_kept', 5],
  ['tax', 10],
] as const

test.each(places)('%s: the starter map finds what its accounts were made for', (country, locale) => {
  const { accounts } = startingChart(country, locale)
  const wrong = meant.filter(([kind, at]) => proposeAccount({ kind }, accounts)?.account !== accounts[at]?.code)
  expect(wrong.map(([kind]) => kinds[kind].label)).toEqual([])
})

test('the language decides where the country speaks another', () => {
  expect(startingChart('BE', 'fr-BE').language).toBe('fr')
  expect(startingChart('CA', 'fr-CA').language).toBe('fr')
  expect(startingChart('CH', 'it-CH').language).toBe('it')
  expect(startingChart(null, 'en-GB').accounts[0]?.code).toBe('1000')
  expect(startingChart('US', 'en-US').accounts[0]?.code).toBe('10100')
  expect(startingChart('JP', 'ja').language).toBe('en')
})
