import { currencyDigits } from './currency.ts'

interface Printing {
  readonly whole: Intl.NumberFormat
  readonly mark: string
}
const known = new Map<string, Printing>()

const printingOf = (locale: string): Printing => {
  const before = known.get(locale)
  if (before) return before
  const parts = new Intl.NumberFormat(locale, { minimumFractionDigits: 1 }).formatToParts(0.5)
  const printing = {
    whole: new Intl.NumberFormat(locale, { maximumFractionDigits: 0 }),
    mark: parts.find(part => part.type === 'decimal')?.value ?? '.',
  }
  known.set(locale, printing)
  return printing
}

/** The mark that people of a locale (BCP 47) write before the digits of a currency's minor unit. */
export const decimalMark = (locale: string): string => printingOf(locale).mark

/**
 * Minor units as people of a locale (BCP 47) read them: its decimal mark and thousands, a true minus before, the currency's
 * digits. Made from the digits, not by a division: a float would lose cents above 2^53 / 100.
 * @example printAmount(-123456, 'EUR', 'de-DE') // "−1.234,56"
 */
export const printAmount = (minor: number, currency: string, locale: string): string => {
  const digits = currencyDigits(currency)
  const { whole, mark } = printingOf(locale)
  const text = Math.abs(minor)
    .toString()
    .padStart(digits + 1, '0')
  const front = whole.format(BigInt(digits === 0 ? text : text.slice(0, -digits)))
  return `${minor < 0 ? '−' : ''}${front}${digits === 0 ? '' : mark + text.slice(-digits)}`
}
