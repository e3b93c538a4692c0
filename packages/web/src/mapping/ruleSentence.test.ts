import type { RuleCondition } from '@culvert/core'
import { describe, expect, it } from 'vitest'
import { conditionText, ruleSentence } from './ruleSentence.ts'

const context = { currency: 'EUR', locale: 'en-IE', accounts: [{ code: '4030', name: 'Sales, books' }] }
const text = (condition: RuleCondition) => conditionText(condition, context)

describe('a condition reads as part of a sentence', () => {
  it.each<[RuleCondition, string]>([
    [{ field: 'customer', is: 'equal', value: 'Una Reddy' }, 'the customer is “Una Reddy”'],
    [{ field: 'kind', is: 'equal', value: 'sale' }, 'the kind is Sale'],
    [{ field: 'description', is: 'containing', value: 'kit' }, 'the description contains “kit”'],
    [{ field: 'sku', is: 'starting', value: 'KIT-' }, 'the SKU starts with “KIT-”'],
    [{ field: 'region', is: 'one_of', values: ['DE', 'FR'] }, 'the region is one of “DE”, “FR”'],
    [{ field: 'amount', is: 'between', low: 100, high: 250_000 }, 'the amount is from 1.00 to 2,500.00'],
    [{ field: 'localDate', is: 'before', value: '2026-03-01' }, 'the date is before 1 Mar 2026'],
    [{ field: 'localDate', is: 'after', value: '2026-03-01' }, 'the date is after 1 Mar 2026'],
    [
      { field: 'localDate', is: 'between', low: '2026-03-01', high: '2026-03-31' },
      'the date is from 1 Mar 2026 to 31 Mar 2026',
    ],
  ])('%o', (condition, words) => expect(text(condition)).toBe(words))

  it('several of which some must hold', () => {
    const of: RuleCondition[] = [
      { field: 'gateway', is: 'equal', value: 'Cash' },
      { field: 'location', is: 'equal', value: 'Market hall' },
    ]
    expect(text({ is: 'several', atLeast: 1, of })).toBe(
      'either the means of payment is “Cash”, or the location is “Market hall”',
    )
    expect(text({ is: 'several', atLeast: 1, of: of.slice(1) })).toBe('the location is “Market hall”')
    expect(text({ is: 'several', atLeast: 2, of })).toBe(
      'at least 2 of these hold: the means of payment is “Cash”; the location is “Market hall”',
    )
  })
})

it('a rule is one sentence, with the account by its name', () => {
  expect(
    ruleSentence(
      {
        conditions: [
          { field: 'category', is: 'equal', value: 'Books' },
          { field: 'region', is: 'equal', value: 'IE' },
        ],
        actions: [
          { set: 'account', account: '4030' },
          { set: 'tax_code', taxCode: null },
          { set: 'segment', name: 'range', value: 'print' },
          { set: 'contact', contact: 'Tern & Tally' },
        ],
      },
      context,
    ),
  ).toBe(
    'When the category is “Books” and the region is “IE”: book it to 4030 Sales, books, without tax, with range “print” and for Tern & Tally.',
  )
  expect(
    ruleSentence(
      {
        conditions: [{ field: 'sku', is: 'equal', value: 'X' }],
        actions: [{ set: 'account', account: '9999' }, { set: 'tax_code', taxCode: 'S0' }, { set: 'block' }],
      },
      context,
    ),
  ).toBe('When the SKU is “X”: book it to 9999, with tax code S0 and stop it for a person.')
})
