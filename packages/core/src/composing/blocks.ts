import type { Kind } from '../activity/kinds.ts'
import type { Route } from '../mapping/route.ts'
import { addMinor } from '../money/minor.ts'
import type { ChannelReach } from '../tieout/awaitsChannel.ts'
import type { LineBlock } from './resolveLine.ts'

export type BlockReason =
  | LineBlock
  | 'does_not_foot'
  | 'rate_missing'
  | 'tax_differs'
  | 'likely_double'
  | 'awaits_channel'

/** A reason that holds the settlement up. `amount`: sum of the lines concerned, or the difference. Minor units. */
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
  /** Channels that it waits for, with the local date up to which each is pulled. */
  readonly awaits?: readonly ChannelReach[]
}

/** Collects what blocks a settlement, reason by reason, while it is composed. */
export class Blocks {
  private readonly found = new Map<
    BlockReason,
    { amount: number; concerned: Map<string, Block['concerned'][number]> }
  >()
  private transfersWithoutRate = 0
  private anyTransferWithoutRate = false

  add(reason: BlockReason, amount: number): void {
    const block = this.found.get(reason) ?? { amount: 0, concerned: new Map() }
    block.amount = addMinor(block.amount, amount)
    this.found.set(reason, block)
  }
  addLine(
    resolution: { readonly reason: LineBlock; readonly route: Route | null },
    line: { kind: Kind; category: string | null; amount: number; count: number },
  ): void {
    this.add(resolution.reason, line.amount)
    const concerned = this.found.get(resolution.reason)?.concerned
    const key = JSON.stringify([line.kind, line.category])
    const before = concerned?.get(key)
    concerned?.set(key, {
      kind: line.kind,
      category: line.category,
      amount: addMinor(before?.amount ?? 0, line.amount),
      count: (before?.count ?? 0) + line.count,
      route: resolution.route?.id ?? null,
    })
  }
  transferWithoutRate(amount: number): void {
    this.anyTransferWithoutRate = true
    this.transfersWithoutRate = addMinor(this.transfersWithoutRate, amount)
  }
  addTransferRates(): void {
    if (this.anyTransferWithoutRate) this.add('rate_missing', this.transfersWithoutRate)
  }
  has(reason: BlockReason): boolean {
    return this.found.has(reason)
  }
  list(): Block[] {
    return [...this.found].map(([reason, { amount, concerned }]) => ({
      reason,
      amount,
      concerned: [...concerned.values()],
    }))
  }
}
