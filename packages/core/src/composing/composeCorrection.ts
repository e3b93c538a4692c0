import type { DraftEntry, DraftLine } from './draft.ts'
import { mergeLines } from './mergeLines.ts'
import { mirrorLines } from './mirrorEntry.ts'

/**
 * What revised lines change in a settlement that is posted: the journals it would have now less all that it has booked,
 * earlier corrections included. Booked, its balances are those of the revised lines posted in the first place. Null where
 * nothing differs. `date` (local date): that of the journal it corrects, or the first open day.
 */
export const composeCorrection = (
  now: readonly DraftEntry[],
  booked: readonly DraftLine[],
  at: { readonly date: string; readonly currency: string },
): DraftEntry | null => {
  const wanted = now.filter(entry => entry.document === 'journal').flatMap(entry => entry.lines)
  const lines = mergeLines([...wanted, ...mirrorLines(booked)])
  return lines.length === 0 ? null : { document: 'journal', ...at, payoutLine: null, lines }
}
