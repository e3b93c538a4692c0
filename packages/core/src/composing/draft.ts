import { compareText } from '../mapping/compareText.ts'
import { convertMinor } from '../money/exchange.ts'
import type { Fraction } from '../money/fraction.ts'
import { addWide, MinorOutOfRange, narrow, sumWide, type Wide } from '../money/minor.ts'

/** One line of an entry not yet posted. Minor units, plus is a debit; `baseAmount` in the client's base currency. */
export interface DraftLine {
  readonly account: string
  readonly taxCode: string
  readonly segments: string
  readonly amount: number
  readonly baseAmount: number
  /** Keys of the buckets it was made of: with the map version, the way back to its activity lines. */
  readonly buckets: readonly string[]
  /** Ids of the routes that sent those lines. */
  readonly routes: readonly number[]
}

export interface DraftEntry {
  readonly document: 'journal' | 'transfer' | 'cost'
  /** Local date. */
  readonly date: string
  readonly currency: string
  readonly lines: readonly DraftLine[]
  /** The payout line that a transfer is made of. */
  readonly payoutLine: string | null
}

/** A contribution to an entry line before like ones are merged; plus is a debit. */
export interface Part {
  readonly account: string
  readonly taxCode: string
  readonly segments: string
  readonly amount: Wide
  readonly bucket: string | null
  readonly routes: Iterable<number>
}

interface Merged {
  readonly account: string
  readonly taxCode: string
  readonly segments: string
  amount: Wide
  readonly buckets: Set<string>
  readonly routes: Set<number>
}

/** Merges parts alike in account, tax code and segments, and leaves out what comes to zero. */
export const mergeParts = (parts: Iterable<Part>): Merged[] => {
  const merged = new Map<string, Merged>()
  for (const part of parts) {
    const key = JSON.stringify([part.account, part.taxCode, part.segments])
    let line = merged.get(key)
    if (!line) {
      line = {
        account: part.account,
        taxCode: part.taxCode,
        segments: part.segments,
        amount: 0,
        buckets: new Set(),
        routes: new Set(),
      }
      merged.set(key, line)
    }
    line.amount = addWide(line.amount, part.amount)
    if (part.bucket !== null) line.buckets.add(part.bucket)
    for (const route of part.routes) line.routes.add(route)
  }
  return [...merged.values()].filter(line => line.amount !== 0)
}

/** Debits first, then by account, tax code and segments. */
const compareLines = (left: Merged, right: Merged): number =>
  (left.amount > 0 ? 0 : 1) - (right.amount > 0 ? 0 : 1) ||
  compareText(left.account, right.account) ||
  compareText(left.taxCode, right.taxCode) ||
  compareText(left.segments, right.segments)

/**
 * Orders merged lines and gives each its base amount at `rate` (null: the entry is in the base currency). What rounding
 * leaves goes to `exchangeRounding`, as one more line that is empty but in base; null if that account is not named.
 * @throws MinorOutOfRange when a line is beyond ±9·10^15 in its currency or in base
 */
export const finishLines = (
  merged: readonly Merged[],
  money: { currency: string; base: string; rate: Fraction | null; exchangeRounding: string | null },
): DraftLine[] | null => {
  const { rate } = money
  const lines = [...merged].sort(compareLines).map(line => ({
    account: line.account,
    taxCode: line.taxCode,
    segments: line.segments,
    amount: narrow(line.amount),
    baseAmount: rate ? convertMinor(narrow(line.amount), rate, money) : narrow(line.amount),
    buckets: [...line.buckets].sort(compareText),
    routes: [...line.routes].sort((one, other) => one - other),
  }))
  const rest = -narrow(sumWide(lines, line => line.baseAmount))
  if (rest === 0) return lines
  if (money.exchangeRounding === null) return null
  const rounding = { account: money.exchangeRounding, taxCode: '', segments: '', amount: 0, baseAmount: rest }
  return [...lines, { ...rounding, buckets: [], routes: [] }]
}

/** The same, or why there are none: no account for what rounding leaves, or a line beyond the range. */
export const finishedLines = (
  merged: readonly Merged[],
  money: Parameters<typeof finishLines>[1],
): DraftLine[] | 'account_unusable' | 'out_of_range' => {
  try {
    return finishLines(merged, money) ?? 'account_unusable'
  } catch (error) {
    if (error instanceof MinorOutOfRange) return 'out_of_range'
    throw error
  }
}
