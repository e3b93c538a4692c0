import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import type { ExchangeRate } from '../money/exchange.ts'

export type RateFault = 'not_a_date' | 'unknown_currency' | 'same_currency' | 'not_a_rate'

const shape = /^\d{1,9}(\.\d{1,12})?$/

/** What keeps an exchange rate from being taken in; null: nothing. A rate is a plain decimal above zero. */
export const checkRate = ({ date, from, to, rate }: ExchangeRate): RateFault | null => {
  if (!isDate(date)) return 'not_a_date'
  if (!isCurrency(from) || !isCurrency(to)) return 'unknown_currency'
  if (from === to) return 'same_currency'
  return shape.test(rate) && Number(rate) > 0 ? null : 'not_a_rate'
}
