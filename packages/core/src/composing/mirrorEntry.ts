import { negateMinor } from '../money/minor.ts'
import type { DraftEntry, DraftLine } from './draft.ts'

/** Lines that undo the given ones to the cent, in currency and in base. */
export const mirrorLines = (lines: readonly DraftLine[]): DraftLine[] =>
  lines.map(line => ({ ...line, amount: negateMinor(line.amount), baseAmount: negateMinor(line.baseAmount) }))

/** The entry that undoes another, dated `date` (local date). */
export const mirrorEntry = (entry: DraftEntry, date: string): DraftEntry => ({
  ...entry,
  date,
  lines: mirrorLines(entry.lines),
})
