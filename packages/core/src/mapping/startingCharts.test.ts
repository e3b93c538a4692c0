import { expect, test } from 'vitest'
import { accountTypes, type Kind } from '../activity/kinds.ts'
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

/** What each chart was written for: the kind, and its account's number in the chart of a country. */
const meant = {
  IE: 'sale 4000,shipping 4100,refund 4200,discount 4210,processing_fee 6000,selling_fee 6010,fulfilment_fee 6020,advertising_fee 6100,subscription_fee 6200,gift_card_sold 2100,advance_received 2150,tip 2160,reserve_kept 1170,tax 2200',
  US: 'sale 40000,shipping 41000,refund 42000,discount 42100,processing_fee 60100,selling_fee 60200,fulfilment_fee 60300,advertising_fee 61000,subscription_fee 62000,gift_card_sold 21000,advance_received 21500,tip 21600,reserve_kept 12600,tax 22000',
  DE: 'sale 8400,shipping 8440,refund 8700,discount 8730,processing_fee 4971,selling_fee 4760,fulfilment_fee 4730,advertising_fee 4600,subscription_fee 4806,gift_card_sold 1700,advance_received 1705,tip 1750,reserve_kept 1545,tax 1776',
  FR: 'sale 707000,shipping 708500,refund 709700,discount 709800,processing_fee 627800,selling_fee 622200,fulfilment_fee 624200,advertising_fee 623100,subscription_fee 651100,gift_card_sold 419700,advance_received 168100,tip 421500,reserve_kept 467200,tax 445710',
  ES: 'sale 700000,shipping 705100,refund 708000,discount 706000,processing_fee 626100,selling_fee 623100,fulfilment_fee 624000,advertising_fee 627000,subscription_fee 629100,gift_card_sold 438100,advance_received 520100,tip 465100,reserve_kept 565000,tax 477000',
  IT: 'sale 4000,shipping 4100,refund 4200,discount 4210,processing_fee 6000,selling_fee 6010,fulfilment_fee 6020,advertising_fee 6100,subscription_fee 6200,gift_card_sold 2100,advance_received 2150,tip 2160,reserve_kept 1260,tax 2200',
  NL: 'sale 8000,shipping 8100,refund 8200,discount 8210,processing_fee 4600,selling_fee 4610,fulfilment_fee 4620,advertising_fee 4500,subscription_fee 4400,gift_card_sold 1700,advance_received 1710,tip 1720,reserve_kept 1360,tax 1500',
} as const

test.each(places.filter(([country]) => country in meant))(
  '%s: the starter map finds what its accounts were made for',
  (country, locale) => {
    const { accounts } = startingChart(country, locale)
    const wrong = meant[country as keyof typeof meant].split(',').filter(one => {
      const [kind = '', code] = one.split(' ')
      return proposeAccount({ kind: kind as Kind }, accounts)?.account !== code
    })
    expect(wrong).toEqual([])
  },
)

test('the language decides where the country speaks another', () => {
  expect(startingChart('BE', 'fr-BE').language).toBe('fr')
  expect(startingChart('CA', 'fr-CA').language).toBe('fr')
  expect(startingChart('CH', 'it-CH').language).toBe('it')
  expect(startingChart(null, 'en-GB').accounts[0]?.code).toBe('1000')
  expect(startingChart('US', 'en-US').accounts[0]?.code).toBe('10100')
  expect(startingChart('JP', 'ja').language).toBe('en')
})
