import type { DatedAmount } from './proofInput.ts'

/** An entry on the account: by hand, or made from a source's activity. */
export interface StandingEntry extends DatedAmount {
  readonly name: string
}

/**
 * For each entry made by hand, the one that a source made of which it looks like a double: the same amount on the same day. Each of the
 * sources' entries is doubled once. Null: it is none.
 */
export const findDoubles = (
  byHand: readonly StandingEntry[],
  made: readonly StandingEntry[],
): (StandingEntry | null)[] => {
  const placeOf = (entry: DatedAmount): string => `${entry.date} ${entry.amount}`
  const open = new Map<string, StandingEntry[]>()
  for (const entry of made) {
    const list = open.get(placeOf(entry))
    if (list) list.push(entry)
    else open.set(placeOf(entry), [entry])
  }
  return byHand.map(entry => (entry.amount === 0 ? null : (open.get(placeOf(entry))?.shift() ?? null)))
}
