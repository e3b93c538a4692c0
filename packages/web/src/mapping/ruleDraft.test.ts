import type { Rule } from '@culvert/core'
import { describe, expect, it } from 'vitest'
import { blankCondition, conditionOf, draftOf, operatorsOf, ruleDraftOf, ruleOf } from './ruleDraft.ts'
import { ruleSentence } from './ruleSentence.ts'

const irish = { currency: 'EUR', locale: 'en-IE' }
const german = { currency: 'EUR', locale: 'de-DE' }
const rule: Rule = {
  id: 4,
  conditions: [
    { field: 'kind', is: 'equal', value: 'sale' },
    { field: 'region', is: 'one_of', values: ['DE', 'AT'] },
    { field: 'localDate', is: 'between', low: '2026-03-01', high: '2026-03-31' },
    {
      is: 'several',
      atLeast: 2,
      of: [
        { field: 'amount', is: 'between', low: -123_456, high: 5000 },
        { field: 'customer', is: 'containing', value: 'quill' },
        { field: 'localDate', is: 'after', value: '2026-03-05' },
      ],
    },
  ],
  actions: [
    { set: 'account', account: '4010' },
    { set: 'tax_code', taxCode: null },
    { set: 'segment', name: 'range', value: 'starter' },
  ],
}

it('takes a rule apart for writing, and puts the same together again', () =>
  expect(ruleOf(ruleDraftOf(rule, irish), irish)).toEqual(rule))

it('writes amounts with the marks of whoever reads them, and takes sums', () => {
  const between = { field: 'amount', is: 'between', low: -123_456, high: 5000 } as const
  expect(draftOf(between, german)).toMatchObject({ value: '−1.234,56', high: '50,00' })
  expect(conditionOf(draftOf(between, german), german)).toEqual(between)
  expect(conditionOf({ field: 'amount', is: 'between', value: '-1.234,56', high: '30+20' }, german)).toEqual(between)
})

it('reads a rule as one sentence', () => {
  const context = { currency: 'EUR', locale: 'en-IE', accounts: [{ code: '4010', name: 'Kits' }] }
  expect(ruleSentence(rule, context)).toBe(
    'When the kind is Sale, the region is one of “DE”, “AT”, the date is from 1 Mar 2026 to 31 Mar 2026 and at least 2 of ' +
      'these hold: the amount is from −1,234.56 to 50.00; the customer contains “quill”; the date is after 5 Mar 2026: ' +
      'book it to 4010 Kits, without tax and with range “starter”.',
  )
  expect(
    ruleSentence(
      {
        conditions: [
          {
            is: 'several',
            atLeast: 1,
            of: [
              { field: 'sku', is: 'starting', value: 'M' },
              { field: 'sku', is: 'equal', value: 'X' },
            ],
          },
        ],
        actions: [{ set: 'block' }],
      },
      context,
    ),
  ).toBe('When either the SKU starts with “M”, or the SKU is “X”: stop it for a person.')
})

describe('a draft that is not whole', () => {
  it.each([
    [{ ...blankCondition, value: '  ' }],
    [{ ...blankCondition, field: 'amount' as const, is: 'between' as const, value: '1.00', high: '' }],
    [{ ...blankCondition, field: 'amount' as const, is: 'between' as const, value: '1.005', high: '2' }],
    [{ ...blankCondition, field: 'localDate' as const, is: 'before' as const, value: '5 March' }],
    [{ ...blankCondition, is: 'one_of' as const, value: ' , ' }],
  ])('%j is no condition yet', draft => expect(conditionOf(draft, irish)).toBeNull())
  it('makes no rule: without a condition, without an action, or with a choice that asks for more than it has', () => {
    const draft = ruleDraftOf(rule, irish)
    expect(ruleOf({ ...draft, plain: [], groups: [] }, irish)).toBeNull()
    expect(ruleOf({ ...draft, actions: [] }, irish)).toBeNull()
    expect(ruleOf({ ...draft, actions: [{ set: 'account', account: '' }] }, irish)).toBeNull()
    expect(ruleOf({ ...draft, groups: [{ atLeast: 2, of: [{ ...blankCondition, value: 'x' }] }] }, irish)).toBeNull()
  })
  it('takes kinds by the names people see, and only such', () => {
    const kindsOf = (value: string) => conditionOf({ field: 'kind', is: 'one_of', value, high: '' }, irish)
    expect(kindsOf('Sale, shipping refund, tip')).toEqual({
      field: 'kind',
      is: 'one_of',
      values: ['sale', 'shipping_refund', 'tip'],
    })
    expect(kindsOf('Sale, sold')).toBeNull()
    const back = draftOf({ field: 'kind', is: 'one_of', values: ['sale', 'shipping_refund'] }, irish)
    expect(back.value).toBe('Sale, Shipping refund')
  })
  it('is told the digits of the currency', () => {
    const condition = { field: 'amount', is: 'between', low: 1234, high: 5000 } as const
    expect(draftOf(condition, { ...irish, currency: 'JPY' })).toMatchObject({ value: '1,234', high: '5,000' })
    const dinars = { ...irish, currency: 'KWD' }
    expect(conditionOf(draftOf(condition, dinars), dinars)).toEqual(condition)
  })
})

it('asks of each field only what makes sense of it', () =>
  expect([operatorsOf('amount'), operatorsOf('localDate'), operatorsOf('kind'), operatorsOf('sku').length]).toEqual([
    ['between'],
    ['between', 'before', 'after'],
    ['equal', 'one_of'],
    4,
  ]))
