import type { MissingAccount, MissingPage, MissingTax } from '@culvert/contract'
import { describe, expect, it } from 'vitest'
import {
  accountChoice,
  countsOf,
  emptyDraft,
  type MissingDraft,
  readPercent,
  taxChoice,
  wantedOf,
} from './missingDraft.ts'

const account = (more: Partial<MissingAccount> = {}): MissingAccount => ({
  ...{ key: 'a', kind: 'shipping', kinds: ['shipping'], label: null, sources: [], amount: 100, use: null, asks: [] },
  make: { code: '4100', name: 'Postage charged', type: 'income' },
  ...more,
})
const used = (sure: boolean) => ({ account: '4000', sure, reason: { named: [], called: ['sales'], onlyOfType: false } })
const tax = (more: Partial<MissingTax> = {}): MissingTax => ({
  ...{ key: 't', region: 'IE', class: '', sources: [], amount: 100, lines: 1, seenPercent: null, use: null },
  make: { code: 'IE', name: 'Ireland', country: 'IE', percent: null },
  ...more,
})
const page = (more: Partial<MissingPage>): MissingPage => ({
  ...{
    version: 7,
    base: 'EUR',
    from: null,
    to: null,
    banks: [],
    clearings: [],
    rounding: null,
    accounts: [],
    taxes: [],
    feeTaxes: [],
    unfitRoutes: [],
    unlikeRates: [],
    unfit: [],
  },
  ...{ chart: [], taxCodes: [], taxByRows: true },
  taxAccount: { use: null, make: { code: '2200', name: 'VAT on sales', type: 'tax' } },
  ...more,
})
const draftOf = (
  rows: MissingDraft['rows'] extends ReadonlyMap<string, infer C> ? Record<string, C> : never,
): MissingDraft => ({
  ...emptyDraft,
  rows: new Map(Object.entries(rows)),
})

describe('an account', () => {
  it('is taken by itself where it is sure, or nothing there would serve', () => {
    expect(accountChoice(account(), emptyDraft)).toMatchObject({ taken: true, use: null, code: '4100' })
    expect(accountChoice(account({ use: used(true) }), emptyDraft).taken).toBe(true)
    expect(accountChoice(account({ use: used(false) }), emptyDraft).taken).toBe(false)
  })
  it('waits for the tax that only a person can say, however it is pressed', () => {
    const fee = account({ asks: ['openhall/charged'] })
    expect(accountChoice(fee, draftOf({ a: { taken: true } }))).toMatchObject({ taken: false, waits: 'tax' })
    const said = { ...emptyDraft, feeTaxes: new Map([['openhall/charged', null]]) }
    expect(accountChoice(fee, said)).toMatchObject({ taken: true, waits: null })
  })
  it('is not made without a number and a name', () => {
    expect(accountChoice(account(), draftOf({ a: { name: ' ', taken: true } }))).toMatchObject({
      taken: false,
      waits: 'name',
    })
  })
})

describe('a tax code', () => {
  it('waits for its rate where none was charged, and takes its name and code from it', () => {
    expect(taxChoice(tax(), draftOf({ t: { taken: true } }))).toMatchObject({ taken: false, waits: 'rate' })
    expect(taxChoice(tax(), draftOf({ t: { percent: '13,5' } }))).toMatchObject({
      ...{ taken: true, percent: 13.5, code: 'IE13-5', name: 'Ireland, 13.5 %' },
    })
    expect(taxChoice(tax(), draftOf({ t: { percent: '230' } })).waits).toBe('rate')
  })
  it('is made of the rate that is typed over another, and shared by rows of one country and rate', () => {
    const seen = tax({ seenPercent: 22.98, make: { code: 'IE23', name: 'Ireland, 23 %', country: 'IE', percent: 23 } })
    expect(taxChoice(seen, draftOf({ t: { percent: '13.5' } }))).toMatchObject({
      code: 'IE13-5',
      name: 'Ireland, 13.5 %',
    })
    const second = tax({ key: 'u', make: { code: 'IE_2', name: 'Ireland', country: 'IE', percent: null } })
    expect(taxChoice(second, draftOf({ u: { percent: '13.5' } })).code).toBe('IE13-5')
  })
  it('is taken by itself where it was charged, and not where it is merely the only one', () => {
    const made = tax({ seenPercent: 22.98, make: { code: 'IE23', name: 'Ireland, 23 %', country: 'IE', percent: 23 } })
    expect(taxChoice(made, emptyDraft).taken).toBe(true)
    expect(taxChoice(tax({ use: { code: 'S23', why: 'rate_seen' } }), emptyDraft).taken).toBe(true)
    expect(taxChoice(tax({ use: { code: 'S23', why: 'only_one' } }), emptyDraft).taken).toBe(false)
  })
  it('is not made for a country that is not known', () => {
    expect(taxChoice(tax({ make: null, region: null }), draftOf({ t: { taken: true, percent: '9' } })).waits).toBe(
      'country',
    )
  })
})

it.each([
  ['23', 23],
  ['13,5 %', 13.5],
  ['0', 0],
  ['100', 100],
  ['101', null],
  ['-1', null],
  ['1e1', null],
  ['', null],
])('reads a rate of “%s” as %s', (text, percent) => {
  expect(readPercent(text)).toBe(percent)
})

it('asks for what is taken and nothing else, and counts what that makes', () => {
  const all = page({
    accounts: [account(), account({ key: 'b', use: used(true) }), account({ key: 'c', use: used(false) })],
    taxes: [tax(), tax({ key: 'u', region: 'DE' })],
  })
  const wanted = wantedOf(all, draftOf({ t: { percent: '23' } }))
  expect(wanted).toEqual({
    version: 7,
    banks: [],
    clearings: [],
    rounding: null,
    accounts: [
      { key: 'a', use: null, make: { code: '4100', name: 'Postage charged', type: 'income' } },
      { key: 'b', use: '4000', make: null },
    ],
    taxes: [{ key: 't', use: null, make: { code: 'IE23', name: 'Ireland, 23 %', percent: 23 } }],
    taxAccount: { use: null, make: { code: '2200', name: 'VAT on sales', type: 'tax' } },
    feeTaxes: [],
  })
  // The account that the code posts to is made with it.
  expect(countsOf(wanted)).toEqual({ accounts: 2, taxCodes: 1, used: 1, all: 3 })
  expect(countsOf(wantedOf(all, draftOf({ t: { percent: '0' } })))).toMatchObject({ accounts: 1 })
})
