import { currencyDigits } from './currency.ts'
import { maxMinor } from './minor.ts'

export type AmountFault = 'not_an_amount' | 'too_many_digits' | 'out_of_range'
export type ParsedAmount = { ok: true; minor: number } | { ok: false; code: AmountFault }

const shape = /^(-?)(\d+)(?:[.,](\d+))?$/

/**
 * Reads an amount as minor units: optional minus, digits, optionally one decimal mark (point or comma) with one to as
 * many digits as the currency has. No plus, no thousands separators, no exponent; never rounds.
 * @example parseAmount('12.3', 'EUR') // { ok: true, minor: 1230 }
 * @example parseAmount('12.345', 'EUR') // { ok: false, code: 'too_many_digits' }
 */
export const parseAmount = (text: string, currency: string): ParsedAmount => {
  const match = shape.exec(text)
  if (!match) return { ok: false, code: 'not_an_amount' }
  const [, sign, whole = '', fraction = ''] = match
  const digits = currencyDigits(currency)
  if (fraction.length > digits) return { ok: false, code: 'too_many_digits' }
  const size = Number(whole + fraction.padEnd(digits, '0'))
  if (size > maxMinor) return { ok: false, code: 'out_of_range' }
  return { ok: true, minor: sign && size !== 0 ? -size : size }
}
