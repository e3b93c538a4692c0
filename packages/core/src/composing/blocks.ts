import type { WeightedLine } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import type { Route } from '../mapping/route.ts'
import { addWide, isMinor, type Wide } from '../money/minor.ts'
import type { ChannelReach } from '../tieout/awaitsChannel.ts'
import type { LineBlock } from './resolveLine.ts'

export type BlockReason =
  | LineBlock
  | 'does_not_foot'
  | 'rate_missing'
  | 'tax_differs'
  | 'out_of_range'
  | 'likely_double'
  | 'awaits_channel'
  | 'order_open'

/** A reason that holds the settlement up. `amount`: sum of the lines concerned, or the difference, minor units; 0 of what is out of range. */
export interface Block {
  readonly reason: BlockReason
  readonly amount: number
  /** The lines concerned, added up by kind and category. */
  readonly concerned: readonly {
    kind: Kind
    category: string | null
    amount: number
    count: number
    route: number | null
  }[]
  /** Number of the entry that it may be the double of. */
  readonly entry?: string
  /** Name of a settlement that waits too, of which it may be the double. */
  readonly like?: string
  /** Collections without a tender, each with the open order that it is most likely of. */
  readonly orders?: readonly {
    readonly lineId: string
    readonly amount: number
    readonly source: string
    readonly order: string
  }[]
  /** Channels that it waits for, with the local date up to which each is pulled. */
  readonly awaits?: readonly ChannelReach[]
}

type BlockedLine = Pick<WeightedLine, 'kind' | 'category' | 'amount' | 'count' | 'part'>

/** Collects what blocks a settlement, reason by reason, while it is composed. */
export class Blocks {
  private readonly found = new Map<
    BlockReason,
    { amount: Wide; concerned: Map<string, Omit<Block['concerned'][number], 'amount'> & { amount: Wide }> }
  >()
  private readonly parts = new Set<string>()
  private transfersWithoutRate: Wide = 0
  private anyTransferWithoutRate = false

  add(reason: BlockReason, amount: Wide): void {
    const block = this.found.get(reason) ?? { amount: 0, concerned: new Map() }
    block.amount = addWide(block.amount, amount)
    this.found.set(reason, block)
  }
  addLine(
    { reasons, route }: { readonly reasons: readonly LineBlock[]; readonly route: Route | null },
    line: BlockedLine,
  ): void {
    for (const reason of new Set(reasons)) {
      if (!line.part) this.addConcerned(reason, route, line)
      else if (!this.parts.has(JSON.stringify([reason, line.part.lineId]))) {
        // A line of which a part is concerned counts whole, and once.
        this.parts.add(JSON.stringify([reason, line.part.lineId]))
        this.addConcerned(reason, route, { ...line, amount: line.part.whole })
      }
    }
  }
  private addConcerned(reason: LineBlock, route: Route | null, line: BlockedLine): void {
    this.add(reason, line.amount)
    const concerned = this.found.get(reason)?.concerned
    const key = JSON.stringify([line.kind, line.category])
    const before = concerned?.get(key)
    concerned?.set(key, {
      kind: line.kind,
      category: line.category,
      amount: addWide(before?.amount ?? 0, line.amount),
      count: (before?.count ?? 0) + line.count,
      route: route?.id ?? null,
    })
  }
  transferWithoutRate(amount: number): void {
    this.anyTransferWithoutRate = true
    this.transfersWithoutRate = addWide(this.transfersWithoutRate, amount)
  }
  addTransferRates(): void {
    if (this.anyTransferWithoutRate) this.add('rate_missing', this.transfersWithoutRate)
  }
  has(reason: BlockReason): boolean {
    return this.found.has(reason)
  }
  any(): boolean {
    return this.found.size > 0
  }
  /** All reasons; one whose money is beyond what an amount can be is out of range. */
  list(): Block[] {
    const listed = [...this.found].map(
      ([reason, { amount, concerned }]): Block =>
        isMinor(amount)
          ? { reason, amount, concerned: [...concerned.values()].map(inRange) }
          : { reason: 'out_of_range', amount: 0, concerned: [] },
    )
    return listed.filter(
      (block, index) =>
        block.reason !== 'out_of_range' || listed.findIndex(one => one.reason === block.reason) === index,
    )
  }
}

const inRange = (one: Omit<Block['concerned'][number], 'amount'> & { amount: Wide }): Block['concerned'][number] => ({
  ...one,
  amount: isMinor(one.amount) ? one.amount : 0,
})
