import fc from 'fast-check'
import { expect, it } from 'vitest'
import { printAmount } from './printAmount.ts'
import { typedAmount } from './typedAmount.ts'

it.each([
  ['1,234.50', 'EUR', 'en-IE', 123_450],
  ['1234.5', 'EUR', 'en-IE', 123_450],
  ['120,50', 'EUR', 'en-IE', 12_050],
  ['120+35.50', 'EUR', 'en-IE', 15_550],
  ['100 − 0.01', 'EUR', 'en-IE', 9_999],
  ['-5.90', 'EUR', 'en-IE', -590],
  ['1.234,50', 'EUR', 'de-DE', 123_450],
  ['1.234', 'EUR', 'de-DE', 123_400],
  ['1 234,50', 'EUR', 'fr-FR', 123_450],
  ["1'234.50", 'CHF', 'de-CH', 123_450],
  ['1,234', 'JPY', 'en-US', 1234],
  ['5-5', 'EUR', 'en-IE', 0],
] as const)('%s in %s, %s, is %i', (text, currency, locale, minor) => {
  expect(typedAmount(text, currency, locale)).toEqual({ ok: true, minor })
})

it.each([
  ['1.234', 'EUR', 'en-IE', 'too_many_digits'],
  ['1,234', 'EUR', 'de-DE', 'too_many_digits'],
  ['12,34,567.00', 'EUR', 'en-IE', 'not_an_amount'],
  ['1,2345.00', 'EUR', 'en-IE', 'not_an_amount'],
  ['12+', 'EUR', 'en-IE', 'not_an_amount'],
  ['1e3', 'EUR', 'en-IE', 'not_an_amount'],
  ['', 'EUR', 'en-IE', 'not_an_amount'],
  ['90000000000000.00+0.01', 'EUR', 'en-IE', 'out_of_range'],
] as const)('%s in %s, %s, is refused: %s', (text, currency, locale, code) => {
  expect(typedAmount(text, currency, locale)).toEqual({ ok: false, code })
})

it('what is printed is read as the same amount, alone and in sums', () => {
  const minor = fc.integer({ min: -9_000_000_000, max: 9_000_000_000 })
  fc.assert(
    fc.property(
      fc.array(minor, { minLength: 1, maxLength: 4 }),
      fc.constantFrom('EUR', 'JPY', 'KWD'),
      fc.constantFrom('en-IE', 'en-CA', 'de-DE', 'fr-FR', 'es-ES', 'de-CH'),
      (amounts, currency, locale) => {
        const text = amounts
          .map(amount => printAmount(amount, currency, locale))
          .join('+')
          .replaceAll('+−', '−')
        expect(typedAmount(text, currency, locale)).toEqual({
          ok: true,
          minor: amounts.reduce((sum, amount) => sum + amount, 0),
        })
      },
    ),
  )
})
