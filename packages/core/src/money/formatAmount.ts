import { currencyDigits } from './currency.ts'

/** Writes minor units as a plain decimal with the currency's digits: -1234 EUR is "-12.34", 1234 JPY is "1234". */
export const formatAmount = (minor: number, currency: string): string => {
  const digits = currencyDigits(currency)
  const text = Math.abs(minor)
    .toString()
    .padStart(digits + 1, '0')
  const sign = minor < 0 ? '-' : ''
  return digits === 0 ? sign + text : `${sign}${text.slice(0, -digits)}.${text.slice(-digits)}`
}
