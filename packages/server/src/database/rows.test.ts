import { ruleCondition } from '@culvert/contract'
import { accountTypes, kindNames } from '@culvert/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { is, type Reader, readRow, textsOf, Unread } from './rows.ts'

/** What each reader takes as it is; anything else of the others' is refused, unless it is said here. */
const taken: Record<string, { read: Reader<unknown>; values: unknown[] }> = {
  text: { read: is.text, values: ['', 'a', '2026-01-05'] },
  whole: { read: is.whole, values: [0, -1, 9_007_199_254_740_991] },
  minor: { read: is.minor, values: [0, -1, 9_000_000_000_000_000] },
  yes: { read: is.yes, values: [true, false] },
  date: { read: is.date, values: ['2026-01-05', '9999-12-31', '0001-01-01'] },
  kind: { read: is.kind, values: [...kindNames] },
  accountType: { read: is.accountType, values: [...accountTypes] },
  oneOf: { read: is.oneOf('posted', 'blocked'), values: ['posted', 'blocked'] },
  list: { read: is.list(is.whole), values: [[], [1, 2]] },
  record: { read: is.record({ a: is.text }), values: [{ a: 'x' }] },
  dict: { read: is.dict(is.text), values: [{}, { b: 'y' }] },
}

describe('a reader', () => {
  it.each(Object.keys(taken))('%s takes what it knows, as it came', name => {
    const { read, values } = taken[name] as (typeof taken)[string]
    for (const value of values) expect(read(value)).toEqual(value)
  })
  it.each(Object.keys(taken))('%s refuses what it does not know', name => {
    const { read } = taken[name] as (typeof taken)[string]
    for (const value of [undefined, null, Number.NaN, 1.5, 9_007_199_254_740_992, '1e3x', Symbol.iterator, () => 1])
      if (!(name === 'text' && typeof value === 'string')) expect(() => read(value), String(value)).toThrow(Unread)
  })
  it('takes no number in text for one, and no number for a text', () => {
    fc.assert(
      fc.property(fc.integer(), number => {
        expect(() => is.whole(String(number))).toThrow(Unread)
        expect(() => is.text(number)).toThrow(Unread)
        expect(is.minor(number)).toBe(number)
      }),
    )
  })
  it('knows dates by their form', () => {
    for (const text of ['2026-1-5', '05.01.2026', '2026-01-05T00:00:00Z', '', ' 2026-01-05'])
      expect(() => is.date(text), text).toThrow(Unread)
  })
  it('tells null from missing', () => {
    expect(is.maybe(is.text)(null)).toBeNull()
    expect(() => is.maybe(is.text)(undefined)).toThrow(Unread)
    expect(is.optional(is.text)(undefined)).toBeUndefined()
    expect(() => is.optional(is.text)(null)).toThrow(Unread)
    expect(is.since(is.yes, false)(undefined)).toBe(false)
    expect(is.since(is.yes, false)(true)).toBe(true)
    expect(() => is.since(is.yes, false)(null)).toThrow(Unread)
  })
  it('reads JSON by its schema, and says where it is not so', () => {
    const read = is.list(is.by(ruleCondition))
    const condition = { field: 'sku', is: 'equal', value: 'K-1' }
    expect(read([condition])).toEqual([condition])
    expect(() => read([{ ...condition, is: 'like' }])).toThrow(Unread)
  })
})

describe('a row', () => {
  const shape = { name: is.text, lines: is.list(is.record({ amount: is.minor, note: is.optional(is.text) })) }
  it('is read column by column, down into its JSON, and handed over as it came', () => {
    const row = { name: 'W-1', lines: [{ amount: 5 }, { amount: -5, note: 'back' }], more: 'not asked for' }
    expect(readRow(shape, { ...row })).toEqual(row)
  })
  it('says which column is not what it should be', () => {
    expect(() => readRow(shape, { name: 'W-1', lines: [{ amount: 5 }, { amount: '5' }] })).toThrow(
      'lines: amount: an amount in minor units was expected, "5" came',
    )
    expect(() => readRow(shape, { lines: [] })).toThrow('name: text was expected')
    for (const none of [null, undefined, [], 'row'])
      expect(() => readRow(shape, none)).toThrow('an object was expected')
  })
  it('does not tell much of what came', () => {
    const said = (() => {
      try {
        return readRow({ n: is.whole }, { n: 'x'.repeat(5000) })
      } catch (error) {
        return (error as Error).message
      }
    })()
    expect(String(said).length).toBeLessThan(140)
  })
  it('has further texts by names that are known only later', () => {
    expect(textsOf({ sku: 'K-1', region: null, amount: 5 }, ['sku', 'region'])).toEqual({ sku: 'K-1', region: null })
    expect(() => textsOf({ sku: 5 }, ['sku'])).toThrow(Unread)
    expect(() => textsOf({}, ['sku'])).toThrow(Unread)
  })
  it('passes on what is no fault of reading', () => {
    const broken: Reader<string> = () => {
      throw new RangeError('beyond')
    }
    expect(() => readRow({ a: broken }, { a: 1 })).toThrow(RangeError)
  })
})
