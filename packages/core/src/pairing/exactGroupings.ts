import { dayNumber } from '../activity/localDate.ts'
import { payerWording } from './bankWording.ts'
import { type Bindings, referenceDays } from './bindings.ts'
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
} from './pairingItems.ts'
import { subsetsOfSum } from './subsetsOfSum.ts'

/** Members on the many side of one item's window beyond which only 1:1 is sought. */
const maxWindowMembers = 24
/** Groupings that share members beyond which none of them is likely. */
export const maxComponent = 200
/** Exact groupings of two or more members beyond which a window yields none. */
const maxOfWindow = 200

export interface ExactGroupings {
  readonly groupings: readonly Grouping[]
  /** How many exact groupings hold each item, by its key. */
  readonly counts: ReadonlyMap<string, number>
  /** The one item of each window that yields no groups, since too many fit; by key. */
  readonly overfull: ReadonlySet<string>
  /** Members of such windows, by key: none of them is certain by name. */
  readonly crowded: ReadonlySet<string>
  /** Keys of items in a window too crowded to look for groups. */
  readonly groupsNotSearched: ReadonlySet<string>
}

/** All groupings with equal sums, one sign, one payer, and dates and references that fit: 1:1, n:1 and 1:n. */
export const exactGroupings = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
  bindings: Bindings,
): ExactGroupings => {
  const search = new Search(options)
  const paid = transfers.filter(moves).sort(byDateAndId)
  const came = bankLines.filter(moves).sort(byDateAndId)
  freeGroupings(search, {
    paid: paid.filter(transfer => !bindings.isBound(transfer)),
    came: came.filter(line => !bindings.isBound(line)),
    windowDays: options.windowDays,
  })
  boundGroupings(search, { paid, came, bindings })
  return search
}

/** What no reference binds: windows in time. */
const freeGroupings = (
  search: Search,
  { paid, came, windowDays }: { paid: readonly OpenTransfer[]; came: readonly OpenBankLine[]; windowDays: number },
): void => {
  const bySource = partitions(paid, transfer => transfer.source)
  const byWording = partitions(came, line => payerWording(line.description))
  const alike = new Map(
    [...groupBy(paid, laneOf)].map(([lane, some]) => [
      lane,
      new Map([...groupBy(some, transfer => transfer.amount)].map(([amount, same]) => [amount, new Dated(same)])),
    ]),
  )
  for (const line of came) {
    const day = dayNumber(line.date)
    const lane = laneOf(line)
    const same = alike.get(lane)?.get(line.amount)
    if (same) {
      same.moveTo(day - windowDays, day)
      for (let at = same.low; at < same.high; at++)
        search.add({ bankLines: [line], transfers: [same.items[at] as OpenTransfer] })
    }
    for (const partition of bySource.get(lane) ?? []) {
      const many = partition.window(day - windowDays, day, line.amount)
      if (many !== null) search.transfersOf(line, many)
    }
  }
  for (const transfer of paid) {
    const day = dayNumber(transfer.date)
    for (const partition of byWording.get(laneOf(transfer)) ?? []) {
      const many = partition.window(day, day + windowDays, transfer.amount)
      if (many !== null) search.linesOf(transfer, many)
    }
  }
}

/** What references bind: each line with the payouts that it bears, each payout with the lines that bear it. */
const boundGroupings = (
  search: Search,
  { paid, came, bindings }: { paid: readonly OpenTransfer[]; came: readonly OpenBankLine[]; bindings: Bindings },
): void => {
  for (const line of came) {
    const borne = bindings.borne(line)
    if (borne.length === 0) continue
    const lane = laneOf(line)
    const fitting = borne
      .filter(
        transfer => moves(transfer) && laneOf(transfer) === lane && bindings.mayMeet(line, transfer, referenceDays),
      )
      .sort(byDateAndId)
    for (const transfer of fitting)
      if (transfer.amount === line.amount) search.add({ bankLines: [line], transfers: [transfer] })
    if (fitting.length < 2) continue
    for (const many of groupBy(fitting, transfer => transfer.source).values())
      if (many.length > 1) search.transfersOf(line, many)
  }
  for (const transfer of paid) {
    const bearers = bindings.bearers(transfer)
    if (bearers.length < 2) continue
    const lane = laneOf(transfer)
    const fitting = bearers.filter(line => moves(line) && laneOf(line) === lane)
    if (fitting.length < 2) continue
    for (const many of groupBy([...fitting].sort(byDateAndId), line => payerWording(line.description)).values())
      if (many.length > 1) search.linesOf(transfer, many)
  }
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
  private readonly sizes: readonly number[]
  /** Sum of the sizes before each place. */
  private readonly sums: number[]

  constructor(items: readonly One[]) {
    super(items)
    this.sizes = items.map(item => Math.abs(item.amount))
    this.sums = [0]
    for (const size of this.sizes) this.sums.push((this.sums.at(-1) as number) + size)
  }

  /** The items of the days `from` to `to`; null where they cannot add up to `sum`. */
  window(from: number, to: number, sum: number): readonly One[] | null {
    this.moveTo(from, to)
    const size = this.high - this.low
    if (size < 2) return null
    if (size > maxWindowMembers) return this.items.slice(this.low, this.high)
    // Without copying, since most windows are done with here.
    const target = Math.abs(sum)
    if ((this.sums[this.high] as number) - (this.sums[this.low] as number) < target) return null
    let fitting = 0
    let whole = 0
    for (let at = this.low; at < this.high; at++) {
      const own = this.sizes[at] as number
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
  readonly overfull = new Set<string>()
  readonly crowded = new Set<string>()
  readonly groupsNotSearched = new Set<string>()
  private readonly options: PairingOptions

  constructor(options: PairingOptions) {
    this.options = options
  }

  add(found: Grouping): void {
    const grouping = keyed(found)
    this.groupings.push(grouping)
    for (const key of grouping.keys) this.counts.set(key, (this.counts.get(key) ?? 0) + 1)
  }
  /** Payouts of one source that a bank line may hold. */
  transfersOf(line: OpenBankLine, many: readonly OpenTransfer[]): void {
    this.groups(line.amount, many, {
      keys: () => [keyOfLine(line), ...many.map(keyOfTransfer)],
      grouping: transfers => ({ bankLines: [line], transfers }),
    })
  }
  /** Bank lines of one payer that may be parts of a payout. */
  linesOf(transfer: OpenTransfer, many: readonly OpenBankLine[]): void {
    this.groups(transfer.amount, many, {
      keys: () => [keyOfTransfer(transfer), ...many.map(keyOfLine)],
      grouping: bankLines => ({ bankLines, transfers: [transfer] }),
    })
  }

  private groups<One extends Item>(
    sum: number,
    many: readonly One[],
    how: {
      /** Of the one item, then of the many. */
      readonly keys: () => readonly string[]
      readonly grouping: (members: readonly One[]) => Grouping
    },
  ): void {
    if (many.length > maxWindowMembers) {
      for (const key of how.keys()) this.groupsNotSearched.add(key)
      return
    }
    const found: readonly (readonly One[])[] | null = subsetsOfSum(many, sum, {
      most: this.options.maxGroup,
      mostListed: maxOfWindow,
    })
    if (found !== null) {
      for (const members of found) this.add(how.grouping(members))
      return
    }
    const [one, ...others] = how.keys() as [string, ...string[]]
    this.overfull.add(one)
    for (const key of [one, ...others]) this.crowded.add(key)
  }
}
