import { daysBetween } from '../activity/localDate.ts'
import { byDateAndId, type Grouping, type OpenBankLine, type OpenTransfer } from './pairingItems.ts'

interface Best {
  readonly groups: number
  readonly cost: number
  /** Its first pair, by places: what follows a pair is the same whoever began with it. */
  readonly first: readonly [line: number, transfer: number] | null
}
const none: Best = { groups: 0, cost: 0, first: null }

/** The better of two ways on: more pairs, less cost, then the pair that comes first by bank line and transfer. */
const better = (one: Best, other: Best): Best => {
  if (one.groups !== other.groups) return one.groups > other.groups ? one : other
  if (one.cost !== other.cost) return one.cost < other.cost ? one : other
  if (one.first === null || other.first === null) return one
  return (one.first[0] - other.first[0] || one.first[1] - other.first[1]) > 0 ? other : one
}

/**
 * Pairs equal amounts 1:1: the most pairs, then the least sum of squared lags, then the smallest by order. Squared lags
 * are convex, so the best assignment never crosses in time and two sorted lists are walked together.
 */
export const assignEqual = (pairs: readonly Grouping[]): Grouping[] => {
  const lines = [...new Set(pairs.map(pair => pair.bankLines[0] as OpenBankLine))].sort(byDateAndId)
  const transfers = [...new Set(pairs.map(pair => pair.transfers[0] as OpenTransfer))].sort(byDateAndId)
  const allowed = new Map(pairs.map(pair => [pairKey(pair.bankLines[0], pair.transfers[0]), pair]))
  const table: Best[][] = lines.map(() => [])
  const at = (line: number, transfer: number): Best => table[line]?.[transfer] ?? none
  for (let line = lines.length - 1; line >= 0; line--) {
    for (let transfer = transfers.length - 1; transfer >= 0; transfer--) {
      const deposited = lines[line] as OpenBankLine
      const paid = transfers[transfer] as OpenTransfer
      let best = better(at(line, transfer + 1), at(line + 1, transfer))
      if (allowed.has(pairKey(deposited, paid))) {
        const rest = at(line + 1, transfer + 1)
        const cost = rest.cost + daysBetween(paid.date, deposited.date) ** 2
        best = better({ groups: rest.groups + 1, cost, first: [line, transfer] }, best)
      }
      ;(table[line] as Best[])[transfer] = best
    }
  }
  const chosen: Grouping[] = []
  for (let { first } = at(0, 0); first !== null; { first } = at(first[0] + 1, first[1] + 1))
    chosen.push(allowed.get(pairKey(lines[first[0]], transfers[first[1]])) as Grouping)
  return chosen
}

const pairKey = (line: OpenBankLine | undefined, transfer: OpenTransfer | undefined): string =>
  JSON.stringify([line?.id, transfer?.id])
