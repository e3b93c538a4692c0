import { daysBetween } from '../activity/localDate.ts'
import { byDateAndId, type Grouping, type OpenBankLine, type OpenTransfer } from './pairingItems.ts'

interface Best {
  readonly groups: number
  readonly cost: number
  readonly act: 'pair' | 'skip_transfer' | 'skip_line' | 'end'
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
  const at = (line: number, transfer: number): Best =>
    line === lines.length || transfer === transfers.length
      ? { groups: 0, cost: 0, act: 'end' }
      : ((table[line] as Best[])[transfer] as Best)
  for (let line = lines.length - 1; line >= 0; line--) {
    for (let transfer = transfers.length - 1; transfer >= 0; transfer--) {
      const deposited = lines[line] as OpenBankLine
      const paid = transfers[transfer] as OpenTransfer
      const options: Best[] = []
      if (allowed.has(pairKey(deposited, paid))) {
        const rest = at(line + 1, transfer + 1)
        const lag = daysBetween(paid.date, deposited.date)
        options.push({ groups: rest.groups + 1, cost: rest.cost + lag * lag, act: 'pair' })
      }
      options.push({ ...at(line, transfer + 1), act: 'skip_transfer' }, { ...at(line + 1, transfer), act: 'skip_line' })
      ;(table[line] as Best[])[transfer] = options.reduce((best, option) =>
        option.groups > best.groups || (option.groups === best.groups && option.cost < best.cost) ? option : best,
      )
    }
  }
  return walkBack(lines, transfers, { at, allowed })
}

const pairKey = (line: OpenBankLine | undefined, transfer: OpenTransfer | undefined): string =>
  JSON.stringify([line?.id, transfer?.id])

const walkBack = (
  lines: readonly OpenBankLine[],
  transfers: readonly OpenTransfer[],
  { at, allowed }: { at: (line: number, transfer: number) => Best; allowed: ReadonlyMap<string, Grouping> },
): Grouping[] => {
  const chosen: Grouping[] = []
  let line = 0
  let transfer = 0
  for (;;) {
    const { act } = at(line, transfer)
    if (act === 'end') return chosen
    if (act === 'pair') chosen.push(allowed.get(pairKey(lines[line], transfers[transfer])) as Grouping)
    if (act !== 'skip_transfer') line++
    if (act !== 'skip_line') transfer++
  }
}
