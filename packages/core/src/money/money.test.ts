import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkRate } from '../formats/checkRate.ts'
import { convertMinor, rateOn } from './exchange.ts'
import { formatAmount } from './formatAmount.ts'
import {
  addMinor,
  addWide,
  divideHalfAway,
  isMinor,
  maxMinor,
  narrow,
  negateMinor,
  scaleWide,
  sumWide,
} from './minor.ts'
import { parseAmount } from './parseAmount.ts'
import { printAmount } from './printAmount.ts'
import { parseQuantity, sumQuantities } from './quantity.ts'
import { splitMinor, splitWide } from './splitMinor.ts'

const minor = fc.integer({ min: -maxMinor, max: maxMinor })

describe('amounts', () => {
  it('read what they write, in every number of digits', () => {
    fc.assert(
      fc.property(minor, fc.constantFrom('EUR', 'JPY', 'KWD', 'CLF'), (amount, currency) => {
        expect(parseAmount(formatAmount(amount, currency), currency)).toEqual({
          ok: true,
          minor: amount === 0 ? 0 : amount,
        })
      }),
    )
  })
  it.each([
    ['12.3', 'EUR', 1230],
    ['12,34', 'EUR', 1234],
    ['-0.00', 'EUR', 0],
    ['1234', 'JPY', 1234],
    ['1.234', 'KWD', 1234],
  ])('reads %s %s', (text, currency, wanted) =>
    expect(parseAmount(text, currency)).toEqual({ ok: true, minor: wanted }),
  )
  it.each([
    ['12.345', 'EUR', 'too_many_digits'],
    ['1.0', 'JPY', 'too_many_digits'],
    ['+1', 'EUR', 'not_an_amount'],
    ['1e308', 'EUR', 'not_an_amount'],
    ['1,000.00', 'EUR', 'not_an_amount'],
    ['', 'EUR', 'not_an_amount'],
    ['.5', 'EUR', 'not_an_amount'],
    ['90000000000000.01', 'EUR', 'out_of_range'],
  ])('refuses %s %s', (text, currency, code) => expect(parseAmount(text, currency)).toEqual({ ok: false, code }))
  it('leaves the safe range with an error, never silently', () => {
    expect(() => addMinor(maxMinor, 1)).toThrow(RangeError)
  })
})

describe('printing', () => {
  it.each([
    [-123456, 'EUR', 'de-DE', '−1.234,56'],
    [123456, 'EUR', 'en-IE', '1,234.56'],
    [123456, 'EUR', 'fr-FR', '1\u202f234,56'],
    [5, 'EUR', 'de-DE', '0,05'],
    [1234, 'JPY', 'en-IE', '1,234'],
    [1234567, 'KWD', 'de-DE', '1.234,567'],
    [12345, 'CLF', 'en-IE', '1.2345'],
    [maxMinor - 1, 'EUR', 'en-IE', '89,999,999,999,999.99'],
  ])('%i %s in %s is %s', (amount, currency, locale, wanted) =>
    expect(printAmount(amount, currency, locale)).toBe(wanted),
  )
  it('tells zero plainly, and turns amounts round without a minus zero', () => {
    expect(printAmount(0, 'EUR', 'en-IE')).toBe('0.00')
    expect(Object.is(negateMinor(0), 0)).toBe(true)
    expect(negateMinor(-12)).toBe(12)
  })
})

it('reads quantities exactly and adds them up', () => {
  expect([parseQuantity('1.5'), parseQuantity('1,5'), parseQuantity('x'), parseQuantity('1e3')]).toEqual([
    { numerator: 15n, denominator: 10n },
    { numerator: 15n, denominator: 10n },
    null,
    null,
  ])
  const { numerator, denominator } = sumQuantities(
    ['0.1', '0.2', '-0.3'].map(text => parseQuantity(text) ?? { numerator: 1n, denominator: 1n }),
  )
  expect([numerator, denominator > 0n]).toEqual([0n, true])
})

describe('splitting', () => {
  it('keeps the sum, stays near the share, gives nothing to weight zero', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.array(fc.bigInt({ min: 0n, max: 10n ** 12n }), { minLength: 1, maxLength: 8 }),
        (total, weights) => {
          const parts = splitMinor(total, weights)
          expect(parts.reduce((sum, part) => sum + part, 0)).toBe(total)
          const whole = weights.reduce((sum, weight) => sum + weight, 0n)
          if (whole === 0n) return
          parts.forEach((part, index) => {
            const share = (Math.abs(total) * Number(weights[index])) / Number(whole)
            expect(Math.abs(Math.abs(part) - share)).toBeLessThan(1 + Math.abs(total) * 1e-9)
          })
        },
      ),
    )
  })
  it('gives the odd cent to the earlier part', () => expect(splitMinor(100, [1n, 1n, 1n])).toEqual([34, 33, 33]))
  it('mirrors for a negative total', () => expect(splitMinor(-100, [1n, 1n, 1n])).toEqual([-34, -33, -33]))
})

it('rounds half away from zero, once', () => {
  expect([divideHalfAway(5n, 2n), divideHalfAway(-5n, 2n), divideHalfAway(4n, 3n), divideHalfAway(5n, -2n)]).toEqual([
    3n,
    -3n,
    1n,
    -3n,
  ])
})

it('takes in rates that can be used, and says what is wrong with others', () => {
  const rate = (more: Partial<Parameters<typeof checkRate>[0]>) =>
    checkRate({ date: '2026-03-01', from: 'USD', to: 'EUR', rate: '0.92', ...more })
  expect([
    rate({}),
    rate({ rate: '150' }),
    rate({ date: '2026-02-30' }),
    rate({ from: 'USX' }),
    rate({ to: 'USD' }),
    rate({ rate: '0' }),
    rate({ rate: '-1' }),
    rate({ rate: '0,92' }),
    rate({ rate: '1e3' }),
  ]).toEqual([
    null,
    null,
    'not_a_date',
    'unknown_currency',
    'same_currency',
    'not_a_rate',
    'not_a_rate',
    'not_a_rate',
    'not_a_rate',
  ])
})

describe('exchange', () => {
  const rates = [
    { date: '2026-03-01', from: 'USD', to: 'EUR', rate: '0.92' },
    { date: '2026-03-05', from: 'EUR', to: 'USD', rate: '1.25' },
    { date: '2026-03-05', from: 'USD', to: 'EUR', rate: '0.81' },
  ]
  const euros = (date: string, amount: number) => {
    const rate = rateOn(rates, { currency: 'USD', base: 'EUR', date })
    return rate && convertMinor(amount, rate, { currency: 'USD', base: 'EUR' })
  }
  it('takes the latest rate on or before the date, the direct one on the same date', () => {
    expect([euros('2026-02-28', 100), euros('2026-03-04', 10_000), euros('2026-03-09', 10_000)]).toEqual([
      null,
      9200,
      8100,
    ])
  })
  it('divides by a rate quoted the other way', () => {
    const rate = rateOn(rates.slice(0, 2), { currency: 'USD', base: 'EUR', date: '2026-03-09' })
    expect(rate && convertMinor(10_000, rate, { currency: 'USD', base: 'EUR' })).toBe(8000)
  })
  it('is what a look through all of them finds, however many there are', () => {
    const currency = fc.constantFrom('EUR', 'USD', 'CAD')
    const day = fc.integer({ min: 1, max: 9 }).map(number => `2026-03-0${number}`)
    const quote = fc.record({
      date: day,
      from: currency,
      to: currency,
      rate: fc.constantFrom('0.5', '0.9', '1.25', '2'),
    })
    fc.assert(
      fc.property(
        fc.uniqueArray(quote, { selector: one => `${one.date}${one.from}${one.to}`, maxLength: 40 }),
        day,
        (all, date) => {
          const asked = { currency: 'USD', base: 'EUR', date }
          const fits = all
            .filter(one => one.date <= date && [one.from, one.to].sort().join() === 'EUR,USD')
            .sort((left, right) => right.date.localeCompare(left.date) || (left.from === 'USD' ? -1 : 1))
          const [best] = fits
          const found = rateOn(all, asked)
          if (!best) expect(found).toBeNull()
          else
            expect(Number(found?.numerator) / Number(found?.denominator)).toBeCloseTo(
              best.from === 'USD' ? Number(best.rate) : 1 / Number(best.rate),
            )
        },
      ),
    )
  })
  it('minds the digits of both currencies', () => {
    const rate = rateOn([{ date: '2026-01-01', from: 'JPY', to: 'EUR', rate: '0.0061' }], {
      currency: 'JPY',
      base: 'EUR',
      date: '2026-01-02',
    })
    expect(rate && convertMinor(1000, rate, { currency: 'JPY', base: 'EUR' })).toBe(610)
  })
})

describe('sums on their way', () => {
  it('are exact however large, and a number again as soon as they can be', () => {
    fc.assert(
      fc.property(fc.array(minor, { maxLength: 20 }), amounts => {
        const exact = amounts.reduce((sum, amount) => sum + BigInt(amount), 0n)
        const sum = sumWide(amounts, amount => amount)
        expect(BigInt(sum)).toBe(exact)
        expect(isMinor(sum)).toBe(exact <= BigInt(maxMinor) && exact >= BigInt(-maxMinor))
        if (isMinor(sum)) expect(narrow(sum)).toBe(sum)
        else expect(() => narrow(sum)).toThrow('out of range')
        const parts = splitWide(sum, [1n, 2n, 4n])
        expect(sumWide(parts, part => part)).toBe(sum)
        expect(BigInt(scaleWide(sum, 3n, 3n))).toBe(exact)
      }),
    )
  })
  it('are never minus zero', () => {
    expect(Object.is(addWide(-5, 5), 0)).toBe(true)
    expect(Object.is(addWide(-(10n ** 20n), 10n ** 20n), 0)).toBe(true)
  })
})
