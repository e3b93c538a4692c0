import { dayNumber } from '../activity/localDate.ts'
import { containsWords, isTellingReference, payerWording } from './bankWording.ts'
import {
  byDateAndId,
  type Grouping,
  keyOfLine,
  keyOfTransfer,
  keysOf,
  type OpenBankLine,
  type OpenTransfer,
  type PairingOptions,
  textOfLine,
} from './pairingItems.ts'
import { type Subsets, subsetsOfSum } from './subsetsOfSum.ts'

/** Members on the many side of one item's window beyond which only 1:1 is sought. */
const maxWindowMembers = 24
/** Groupings that share members beyond which none of them is likely; no more of one window need be listed. */
export const maxComponent = 200

export interface ExactGroupings {
  readonly groupings: readonly Grouping[]
  /** How many exact groupings hold each item, by its key: those that are not listed counted too. */
  readonly counts: ReadonlyMap<string, number>
  /** Items, by key, tied by more groupings than are listed. */
  readonly overfull: readonly { readonly keys: readonly string[]; readonly count: number }[]
  /** Keys of items in a window too crowded to look for groups. */
  readonly groupsNotSearched: ReadonlySet<string>
}

/** All groupings with equal sums, one sign, dates in the window and one payer: 1:1, n:1 and 1:n. */
export const exactGroupings = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
): ExactGroupings => {
  const search = new Search(options)
  const paid = dated(transfers.filter(moves).sort(byDateAndId), transfer => transfer.source)
  const came = dated(bankLines.filter(moves).sort(byDateAndId), line => payerWording(line.description))
  for (const line of came) {
    const inWindow = between(paid, [line.day - options.windowDays, line.day], transfer => sameMoney(transfer, line))
    for (const transfer of inWindow)
      if (transfer.item.amount === line.item.amount) search.add({ bankLines: [line.item], transfers: [transfer.item] })
    for (const many of samePayer(inWindow)) search.transfersOf(line.item, many)
  }
  for (const transfer of paid) {
    const inWindow = between(came, [transfer.day, transfer.day + options.windowDays], line => sameMoney(transfer, line))
    for (const many of samePayer(inWindow)) search.linesOf(transfer.item, many)
  }
  return search
}

/** An item with what is asked of it again and again: its day as a number, and who pays. */
interface Dated<Item> {
  readonly item: Item
  readonly day: number
  readonly payer: string
}
const dated = <Item extends { readonly date: string }>(
  sorted: readonly Item[],
  payerOf: (item: Item) => string,
): Dated<Item>[] => sorted.map(item => ({ item, day: dayNumber(item.date), payer: payerOf(item) }))

const moves = (item: { readonly amount: number }): boolean => item.amount !== 0

class Search implements ExactGroupings {
  readonly groupings: Grouping[] = []
  readonly counts = new Map<string, number>()
  readonly overfull: { keys: readonly string[]; count: number }[] = []
  readonly groupsNotSearched = new Set<string>()
  private readonly options: PairingOptions

  constructor(options: PairingOptions) {
    this.options = options
  }

  add(grouping: Grouping): void {
    this.groupings.push(grouping)
    for (const key of keysOf(grouping)) this.count(key, 1)
  }
  /** Payouts of one source that a bank line may hold. */
  transfersOf(line: OpenBankLine, many: readonly OpenTransfer[]): void {
    this.groups(line.amount, many, {
      keys: () => [keyOfLine(line), ...many.map(keyOfTransfer)],
      grouping: transfers => ({ bankLines: [line], transfers }),
      named: transfer => isTellingReference(transfer.reference) && containsWords(textOfLine(line), transfer.reference),
    })
  }
  /** Bank lines of one payer that may be parts of a payout. */
  linesOf(transfer: OpenTransfer, many: readonly OpenBankLine[]): void {
    const { reference } = transfer
    this.groups(transfer.amount, many, {
      keys: () => [keyOfTransfer(transfer), ...many.map(keyOfLine)],
      grouping: bankLines => ({ bankLines, transfers: [transfer] }),
      named: line => isTellingReference(reference) && containsWords(textOfLine(line), reference),
    })
  }

  private groups<Item extends { readonly amount: number }>(
    sum: number,
    many: readonly Item[],
    how: {
      /** Of the one item, then of the many. */
      readonly keys: () => readonly string[]
      readonly grouping: (members: readonly Item[]) => Grouping
      readonly named: (item: Item) => boolean
    },
  ): void {
    if (many.length > maxWindowMembers) {
      for (const key of how.keys()) this.groupsNotSearched.add(key)
      return
    }
    const limits = { most: this.options.maxGroup, mostListed: maxComponent }
    const found: Subsets<Item> = subsetsOfSum(many, sum, limits)
    if (found.count <= maxComponent) {
      for (const members of found.listed) this.add(how.grouping(members))
      return
    }
    const [one, ...others] = how.keys() as [string, ...string[]]
    this.count(one, found.count)
    for (const [place, key] of others.entries()) this.count(key, found.holding[place] as number)
    this.overfull.push({ keys: [one, ...others.filter((_, place) => found.holding[place] !== 0)], count: found.count })
    // Too many to list, but those that references prove are still to be found among them.
    for (const members of subsetsOfSum(many.filter(how.named), sum, limits).listed)
      this.groupings.push(how.grouping(members))
  }
  private count(key: string, by: number): void {
    this.counts.set(key, (this.counts.get(key) ?? 0) + by)
  }
}

/** The fitting items of the days `from` to `to`, both included, of a list in order of date. */
const between = <Item>(
  sorted: readonly Dated<Item>[],
  [from, to]: readonly [number, number],
  fits: (item: Dated<Item>) => boolean,
): Dated<Item>[] => {
  let low = 0
  let high = sorted.length
  while (low < high) {
    const middle = (low + high) >> 1
    if ((sorted[middle] as Dated<Item>).day < from) low = middle + 1
    else high = middle
  }
  const found: Dated<Item>[] = []
  for (let at = low; at < sorted.length; at++) {
    const item = sorted[at] as Dated<Item>
    if (item.day > to) break
    if (fits(item)) found.push(item)
  }
  return found
}

const sameMoney = ({ item: transfer }: Dated<OpenTransfer>, { item: line }: Dated<OpenBankLine>): boolean =>
  transfer.bankAccount === line.bankAccount &&
  transfer.currency === line.currency &&
  transfer.amount > 0 === line.amount > 0

/** Items of one payer together; those alone in the window are no group. */
const samePayer = <Item>(items: readonly Dated<Item>[]): Item[][] => {
  if (items.length < 2) return []
  const groups = new Map<string, Item[]>()
  for (const { item, payer } of items) {
    const group = groups.get(payer)
    if (group) group.push(item)
    else groups.set(payer, [item])
  }
  return [...groups.values()].filter(group => group.length > 1)
}
