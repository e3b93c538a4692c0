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

/**
 * The rate to bring `currency` to `base` on `date`: the newest on or before it, of those quoted either way; on one date
 * the direct quote wins over the one to be inverted. Null if there is none.
 */
export const rateOn = (
  rates: readonly ExchangeRate[],
  wanted: { currency: string; base: string; date: string },
): Fraction | null => {
  let best: ExchangeRate | null = null
  for (const rate of rates) {
    const direct = rate.from === wanted.currency && rate.to === wanted.base
    const inverse = rate.from === wanted.base && rate.to === wanted.currency
    if ((!direct && !inverse) || rate.date > wanted.date) continue
    if (!best || rate.date > best.date || (rate.date === best.date && direct)) best = rate
  }
  if (!best) return null
  const quoted = parseFraction(best.rate)
  return best.from === wanted.currency ? quoted : { numerator: quoted.denominator, denominator: quoted.numerator }
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
