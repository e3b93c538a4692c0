import { currencyDigits } from './currency.ts'
import { type Fraction, parseFraction } from './fraction.ts'
import { narrow, scaleWide, type Wide } from './minor.ts'

/** One unit of `from` is worth `rate` units of `to` on `date` (local date). */
export interface ExchangeRate {
  readonly date: string
  readonly from: string
  readonly to: string
  readonly rate: string
}

/** Quotes of one pair of currencies, either way round, one for each date, in order: on one date the direct quote wins. */
type Quotes = readonly ExchangeRate[]

const pairOf = (from: string, to: string): string => `${from} ${to}`

// A client may have years of daily rates, and each entry asks: they are put in order once for as long as the list lives.
const books = new WeakMap<readonly ExchangeRate[], Map<string, Quotes>>()

const quotesOf = (rates: readonly ExchangeRate[], currency: string, base: string): Quotes => {
  const book = books.get(rates) ?? new Map<string, Quotes>()
  books.set(rates, book)
  const pair = pairOf(currency, base)
  const known = book.get(pair)
  if (known) return known
  const byDate = new Map<string, ExchangeRate>()
  for (const rate of rates) {
    const direct = rate.from === currency && rate.to === base
    const inverse = rate.from === base && rate.to === currency
    if (direct || (inverse && !byDate.has(rate.date))) byDate.set(rate.date, rate)
  }
  const quotes = [...byDate.values()].sort((left, right) => (left.date < right.date ? -1 : 1))
  book.set(pair, quotes)
  return quotes
}

/** The last of those quotes on or before a date. */
const newestOn = (quotes: Quotes, date: string): ExchangeRate | null => {
  let low = 0
  let high = quotes.length
  while (low < high) {
    const middle = (low + high) >> 1
    if ((quotes[middle] as ExchangeRate).date <= date) low = middle + 1
    else high = middle
  }
  return quotes[low - 1] ?? null
}

/**
 * The rate to bring `currency` to `base` on `date`: the newest on or before it, of those quoted either way; on one date
 * the direct quote wins over the one to be inverted. Null if there is none. A list of rates must not be changed once it was asked.
 */
export const rateOn = (
  rates: readonly ExchangeRate[],
  { currency, base, date }: { currency: string; base: string; date: string },
): Fraction | null => {
  const best = newestOn(quotesOf(rates, currency, base), date)
  if (!best) return null
  const quoted = parseFraction(best.rate)
  return best.from === currency ? quoted : { numerator: quoted.denominator, denominator: quoted.numerator }
}

/** Minor units of `currency` as minor units of `base` at `rate`, rounded half away from zero. */
export const convertMinor = (minor: number, rate: Fraction, pair: { currency: string; base: string }): number =>
  narrow(convertWide(minor, rate, pair))

/** The same of a sum on its way. */
export const convertWide = (amount: Wide, rate: Fraction, pair: { currency: string; base: string }): Wide =>
  scaleWide(
    amount,
    rate.numerator * 10n ** BigInt(currencyDigits(pair.base)),
    rate.denominator * 10n ** BigInt(currencyDigits(pair.currency)),
  )
