import { compareText } from '../mapping/compareText.ts'
import { addMinor } from '../money/minor.ts'
import type { DraftLine } from './draft.ts'

/** Adds up entry lines alike in account, tax code and segments; leaves out what comes to zero; orders them. */
export const mergeLines = (lines: readonly DraftLine[]): DraftLine[] => {
  const merged = new Map<string, DraftLine>()
  for (const line of lines) {
    const key = JSON.stringify([line.account, line.taxCode, line.segments])
    const before = merged.get(key)
    merged.set(
      key,
      before
        ? {
            ...before,
            amount: addMinor(before.amount, line.amount),
            baseAmount: addMinor(before.baseAmount, line.baseAmount),
            buckets: [...new Set([...before.buckets, ...line.buckets])].sort(compareText),
            routes: [...new Set([...before.routes, ...line.routes])].sort((one, other) => one - other),
          }
        : line,
    )
  }
  return [...merged.values()]
    .filter(line => line.amount !== 0 || line.baseAmount !== 0)
    .sort(
      (left, right) =>
        (left.amount > 0 ? 0 : 1) - (right.amount > 0 ? 0 : 1) ||
        compareText(left.account, right.account) ||
        compareText(left.taxCode, right.taxCode) ||
        compareText(left.segments, right.segments),
    )
}
