import { type DraftLine, finishLines, mergeParts } from '../composing/draft.ts'
import type { Setup } from '../composing/setup.ts'
import { rateOn } from '../money/exchange.ts'
import { addMinor } from '../money/minor.ts'

/** What lies between what was paid out and what arrived. Minor units, local date. */
export interface Difference {
  readonly bankAccount: string
  /** Where it is booked: a fee of the bank, an exchange difference, or what a person names. */
  readonly account: string
  readonly date: string
  /** Of the transfers. */
  readonly currency: string
  /** What the transfers booked, in their currency and in base. */
  readonly paid: number
  readonly paidBase: number
  /** Of the bank lines. */
  readonly depositCurrency: string
  readonly deposited: number
}

/** What a difference is booked by; `amount`: in the deposit's currency, plus is money gained. */
export type DifferenceDraft =
  | { readonly ok: true; readonly amount: number; readonly currency: string; readonly lines: readonly DraftLine[] }
  | { readonly ok: false; readonly reason: 'rate_missing' | 'currencies' | 'account_unusable' }

/**
 * The lines that bring the bank account to what really arrived. In one currency the difference itself is booked. A payout in another
 * currency than the bank account's was booked at the rate of its day: what arrived in base is held against that, and the difference is
 * booked in base alone.
 */
export const composeDifference = (difference: Difference, setup: Setup): DifferenceDraft => {
  const { bankAccount, account, currency, depositCurrency, date } = difference
  const part = (code: string, amount: number) => ({
    account: code,
    taxCode: '',
    segments: '',
    amount,
    bucket: null,
    routes: [],
  })
  if (currency === depositCurrency) {
    const amount = addMinor(difference.deposited, -difference.paid)
    if (amount === 0) return { ok: true, amount, currency, lines: [] }
    const rate = currency === setup.base ? null : rateOn(setup.rates, { currency, base: setup.base, date })
    if (currency !== setup.base && rate === null) return { ok: false, reason: 'rate_missing' }
    const merged = mergeParts([part(bankAccount, amount), part(account, -amount)])
    const lines = finishLines(merged, { currency, base: setup.base, rate, exchangeRounding: setup.exchangeRounding })
    return lines ? { ok: true, amount, currency, lines } : { ok: false, reason: 'account_unusable' }
  }
  if (depositCurrency !== setup.base) return { ok: false, reason: 'currencies' }
  const amount = addMinor(difference.deposited, -difference.paidBase)
  const line = (code: string, baseAmount: number): DraftLine => ({
    account: code,
    taxCode: '',
    segments: '',
    amount: 0,
    baseAmount,
    buckets: [],
    routes: [],
  })
  return {
    ok: true,
    amount,
    currency,
    lines: amount === 0 ? [] : [line(bankAccount, amount), line(account, -amount)],
  }
}
