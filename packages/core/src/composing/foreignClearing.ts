import { addDays } from '../activity/localDate.ts'
import { compareText } from '../mapping/compareText.ts'
import { convertMinor, type ExchangeRate, rateOn } from '../money/exchange.ts'
import { addMinor, scaleMinor } from '../money/minor.ts'
import type { DraftEntry, DraftLine } from './draft.ts'
import { mirrorEntry } from './mirrorEntry.ts'

/** A balance on an account in another currency than base, minor units of each; debit positive. */
export interface ForeignBalance {
  readonly amount: number
  readonly base: number
}

/**
 * Base amount at which a movement of `amount` leaves a foreign balance: the balance's base × what it closes ÷ the balance.
 * What it does not close (a movement away from zero, or the part beyond zero) is `beyond`, for the rate of its day.
 */
export const carriedBase = (
  before: ForeignBalance,
  amount: number,
): { readonly base: number; readonly beyond: number } => {
  if (before.amount === 0 || Math.sign(before.amount) === Math.sign(amount)) return { base: 0, beyond: amount }
  const closes = Math.abs(amount) <= Math.abs(before.amount) ? amount : -before.amount
  const beyond = addMinor(amount, -closes)
  // The last of a balance takes all that is left of its base, so that none is stranded.
  const base = closes === -before.amount ? -before.base : scaleMinor(before.base, BigInt(closes), BigInt(before.amount))
  return { base: base === 0 ? 0 : base, beyond }
}

/**
 * A transfer whose clearing line is carried at the base amount of what it closes; the difference to the rate of its day is
 * realised on `exchangeDifference`, a line that is empty but in base. `composed` is the transfer at the day's rate.
 */
export const carryTransfer = (
  composed: DraftEntry,
  context: {
    readonly clearing: string
    /** On the clearing account before this transfer. */
    readonly before: ForeignBalance
    readonly exchangeDifference: string
  },
): DraftEntry => {
  const index = composed.lines.findIndex(line => line.account === context.clearing)
  const closing = composed.lines[index]
  if (!closing || closing.amount === 0) return composed
  const { base, beyond } = carriedBase(context.before, closing.amount)
  const dayRateOfBeyond = beyond === 0 ? 0 : scaleMinor(closing.baseAmount, BigInt(beyond), BigInt(closing.amount))
  const carried = addMinor(base, dayRateOfBeyond)
  const difference = addMinor(closing.baseAmount, -carried)
  if (difference === 0) return composed
  const lines = composed.lines.map((line, place) => (place === index ? { ...line, baseAmount: carried } : line))
  return { ...composed, lines: [...lines, baseOnly(context.exchangeDifference, difference)] }
}

const baseOnly = (account: string, baseAmount: number): DraftLine => ({
  account,
  taxCode: '',
  segments: '',
  amount: 0,
  baseAmount,
  buckets: [],
  routes: [],
})

export interface Revaluation {
  /** One entry per currency, in base only, dated `date`, and its mirror on the next day. */
  readonly entries: readonly { readonly revaluation: DraftEntry; readonly reversal: DraftEntry }[]
  /** Currencies with an open balance and no rate on or before the date. */
  readonly withoutRate: readonly string[]
}

/** Revalues open foreign balances at a period's end: each to the rate of `date`, the difference to `exchangeDifference`. */
export const revalueBalances = (
  balances: readonly (ForeignBalance & { readonly account: string; readonly currency: string })[],
  context: {
    readonly date: string
    readonly base: string
    readonly rates: readonly ExchangeRate[]
    readonly exchangeDifference: string
  },
): Revaluation => {
  const currencies = [...new Set(balances.map(balance => balance.currency))]
    .filter(currency => currency !== context.base)
    .sort(compareText)
  const withoutRate: string[] = []
  const entries: { revaluation: DraftEntry; reversal: DraftEntry }[] = []
  for (const currency of currencies) {
    const open = balances.filter(
      balance => balance.currency === currency && (balance.amount !== 0 || balance.base !== 0),
    )
    const rate = rateOn(context.rates, { currency, base: context.base, date: context.date })
    if (open.length > 0 && rate === null) withoutRate.push(currency)
    if (rate === null) continue
    const lines = open
      .map(({ account, amount, base }) =>
        baseOnly(account, addMinor(convertMinor(amount, rate, { currency, base: context.base }), -base)),
      )
      .filter(line => line.baseAmount !== 0)
      .sort((left, right) => compareText(left.account, right.account))
    if (lines.length === 0) continue
    const rest = lines.reduce((sum, line) => addMinor(sum, line.baseAmount), 0)
    const whole = rest === 0 ? lines : [...lines, baseOnly(context.exchangeDifference, -rest)]
    const revaluation: DraftEntry = {
      document: 'journal',
      date: context.date,
      currency,
      payoutLine: null,
      lines: whole,
    }
    entries.push({ revaluation, reversal: mirrorEntry(revaluation, addDays(context.date, 1)) })
  }
  return { entries, withoutRate }
}
