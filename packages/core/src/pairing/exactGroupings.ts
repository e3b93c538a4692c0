import { dayNumber } from '../activity/localDate.ts'
import { containsWords, isTellingReference, payerWording } from './bankWording.ts'
import { groupBy } from './groupBy.ts'
import {
  byDateAndId,
  type Grouping,
  keyed,
  keyOfLine,
  keyOfTransfer,
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
  const paid = transfers.filter(moves).sort(byDateAndId)
  const came = bankLines.filter(moves).sort(byDateAndId)
  const bySource = partitions(paid, transfer => transfer.source)
  const byWording = partitions(came, line => payerWording(line.description))
  const alike = new Map(
    [...groupBy(paid, transfer => `${laneOf(transfer)} ${transfer.amount}`)].map(([key, same]) => [
      key,
      new Dated(same),
    ]),
  )
  for (const line of came) {
    const day = dayNumber(line.date)
    const lane = laneOf(line)
    const same = alike.get(`${lane} ${line.amount}`)
    if (same) {
      same.moveTo(day - options.windowDays, day)
      for (let at = same.low; at < same.high; at++)
        search.add({ bankLines: [line], transfers: [same.items[at] as OpenTransfer] })
    }
    for (const partition of bySource.get(lane) ?? []) {
      const many = partition.window(day - options.windowDays, day, line.amount)
      if (many !== null) search.transfersOf(line, many)
    }
  }
  for (const transfer of paid) {
    const day = dayNumber(transfer.date)
    for (const partition of byWording.get(laneOf(transfer)) ?? []) {
      const many = partition.window(day, day + options.windowDays, transfer.amount)
      if (many !== null) search.linesOf(transfer, many)
    }
  }
  return search
}

type Item = OpenTransfer | OpenBankLine

/** Items of one bank account, currency and sign can be the same money. */
const laneOf = ({ bankAccount, currency, amount }: Item): string => `${bankAccount} ${currency} ${amount > 0}`

/** The items of one payer in order of date, by lane; a payer with a single item makes no group. */
const partitions = <One extends Item>(
  sorted: readonly One[],
  payerOf: (item: One) => string,
): Map<string, Partition<One>[]> => {
  const byPayer = groupBy(sorted, item => `${laneOf(item)}\u0000${payerOf(item)}`)
  const several = [...byPayer.values()].filter(items => items.length > 1).map(items => new Partition(items))
  return groupBy(several, partition => laneOf(partition.items[0] as One))
}

/** Items in order of date, looked at through a window that only moves on. */
class Dated<One extends Item> {
  readonly items: readonly One[]
  private readonly days: readonly number[]
  low = 0
  high = 0

  constructor(items: readonly One[]) {
    this.items = items
    this.days = items.map(item => dayNumber(item.date))
  }
  /** Moves the window to the items of the days `from` to `to`, never earlier than asked before. */
  moveTo(from: number, to: number): void {
    while (this.low < this.items.length && (this.days[this.low] as number) < from) this.low++
    this.high = Math.max(this.high, this.low)
    while (this.high < this.items.length && (this.days[this.high] as number) <= to) this.high++
  }
}

/** One payer's items. */
class Partition<One extends Item> extends Dated<One> {
  /** The items of the days `from` to `to`; null where they cannot add up to `sum`. */
  window(from: number, to: number, sum: number): readonly One[] | null {
    this.moveTo(from, to)
    const size = this.high - this.low
    if (size < 2) return null
    if (size > maxWindowMembers) return this.items.slice(this.low, this.high)
    // Without copying, since most windows are done with here.
    const target = Math.abs(sum)
    let [fitting, whole] = [0, 0]
    for (let at = this.low; at < this.high; at++) {
      const own = Math.abs((this.items[at] as One).amount)
      if (own >= target) continue
      fitting++
      whole += own
    }
    return fitting < 2 || whole < target ? null : this.items.slice(this.low, this.high)
  }
}

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

  add(found: Grouping): void {
    const grouping = keyed(found)
    this.groupings.push(grouping)
    for (const key of grouping.keys) this.count(key, 1)
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

  private groups<One extends Item>(
    sum: number,
    many: readonly One[],
    how: {
      /** Of the one item, then of the many. */
      readonly keys: () => readonly string[]
      readonly grouping: (members: readonly One[]) => Grouping
      readonly named: (item: One) => boolean
    },
  ): void {
    if (many.length > maxWindowMembers) {
      for (const key of how.keys()) this.groupsNotSearched.add(key)
      return
    }
    const limits = { most: this.options.maxGroup, mostListed: maxComponent }
    const found: Subsets<One> = subsetsOfSum(many, sum, limits)
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
      this.groupings.push(keyed(how.grouping(members)))
  }
  private count(key: string, by: number): void {
    this.counts.set(key, (this.counts.get(key) ?? 0) + by)
  }
}
