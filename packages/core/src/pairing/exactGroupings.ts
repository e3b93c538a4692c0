import { addDays, daysBetween } from '../activity/localDate.ts'
import { payerWording } from './bankWording.ts'
import {
  byDateAndId,
  type Grouping,
  type OpenBankLine,
  type OpenTransfer,
  type PairingOptions,
} from './pairingItems.ts'

/** Members on the many side of one item's window beyond which only 1:1 is sought. */
const maxWindowMembers = 24

export interface ExactGroupings {
  readonly groupings: readonly Grouping[]
  /** Ids of items whose window was too crowded to look for groups. */
  readonly groupsNotSearched: ReadonlySet<string>
}

/** All groupings with equal sums, one sign, dates in the window and one payer: 1:1, n:1 and 1:n. */
export const exactGroupings = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
): ExactGroupings => {
  const groupings: Grouping[] = []
  const groupsNotSearched = new Set<string>()
  const sortedTransfers = [...transfers].sort(byDateAndId)
  const sortedLines = [...bankLines].sort(byDateAndId)
  for (const line of sortedLines) {
    const dated = between(sortedTransfers, addDays(line.date, -options.windowDays), line.date)
    const inWindow = dated.filter(transfer => fits(transfer, line, options))
    for (const transfer of inWindow)
      if (transfer.amount === line.amount) groupings.push({ bankLines: [line], transfers: [transfer] })
    for (const many of samePayer(inWindow, transfer => transfer.source)) {
      if (many.length > maxWindowMembers) groupsNotSearched.add(line.id)
      else
        for (const members of subsetsOfSum(many, line.amount, options.maxGroup))
          groupings.push({ bankLines: [line], transfers: members })
    }
  }
  for (const transfer of sortedTransfers) {
    const dated = between(sortedLines, transfer.date, addDays(transfer.date, options.windowDays))
    const inWindow = dated.filter(line => fits(transfer, line, options))
    for (const many of samePayer(inWindow, line => payerWording(line.description))) {
      if (many.length > maxWindowMembers) groupsNotSearched.add(transfer.id)
      else
        for (const members of subsetsOfSum(many, transfer.amount, options.maxGroup))
          groupings.push({ bankLines: members, transfers: [transfer] })
    }
  }
  return { groupings, groupsNotSearched }
}

/** The items dated `from` to `to`, both included, of a list in order of date. */
const between = <Item extends { date: string }>(sorted: readonly Item[], from: string, to: string): Item[] => {
  let low = 0
  let high = sorted.length
  while (low < high) {
    const middle = (low + high) >> 1
    if ((sorted[middle] as Item).date < from) low = middle + 1
    else high = middle
  }
  const found: Item[] = []
  for (let at = low; at < sorted.length && (sorted[at] as Item).date <= to; at++) found.push(sorted[at] as Item)
  return found
}

const fits = (transfer: OpenTransfer, line: OpenBankLine, options: PairingOptions): boolean => {
  if (transfer.bankAccount !== line.bankAccount || transfer.currency !== line.currency) return false
  if (transfer.amount > 0 !== line.amount > 0) return false
  const lag = daysBetween(transfer.date, line.date)
  return lag >= 0 && lag <= options.windowDays
}

const samePayer = <Item>(items: readonly Item[], payerOf: (item: Item) => string): Item[][] => {
  const groups = new Map<string, Item[]>()
  for (const item of items) {
    const group = groups.get(payerOf(item))
    if (group) group.push(item)
    else groups.set(payerOf(item), [item])
  }
  return [...groups.values()].filter(group => group.length > 1)
}

/** Every subset of two to `most` items whose amounts, all of one sign, add up to `sum`. */
const subsetsOfSum = <Item extends { amount: number }>(items: readonly Item[], sum: number, most: number): Item[][] => {
  const found: Item[][] = []
  const target = Math.abs(sum)
  const left: number[] = new Array(items.length + 1).fill(0)
  for (let index = items.length - 1; index >= 0; index--)
    left[index] = (left[index + 1] as number) + Math.abs((items[index] as Item).amount)
  const walk = (index: number, rest: number, chosen: Item[]): void => {
    if (rest === 0) {
      if (chosen.length > 1) found.push(chosen)
      return
    }
    if (index === items.length || chosen.length === most || (left[index] as number) < rest) return
    const item = items[index] as Item
    if (Math.abs(item.amount) <= rest) walk(index + 1, rest - Math.abs(item.amount), [...chosen, item])
    walk(index + 1, rest, chosen)
  }
  walk(0, target, [])
  return found
}
