import { addDays, dayNumber } from '../activity/localDate.ts'
import { referenceDays } from './bindings.ts'
import { groupBy } from './groupBy.ts'
import { byDateAndId, type Grouping, type OpenBankLine, type OpenTransfer } from './pairingItems.ts'
import type { Payers } from './payers.ts'

interface Item {
  readonly bankAccount: string
  readonly currency: string
  readonly date: string
  readonly amount: number
}

/** Everything open, by payer and amount: what could be mistaken for a member of a grouping. Equal amounts count also where references bind them elsewhere. */
export class OpenAmounts {
  private readonly payouts = new Map<string, Map<number, OpenTransfer[]>>()
  private readonly lines = new Map<string, Map<number, OpenBankLine[]>>()
  private readonly bySource: ReadonlyMap<string, readonly OpenTransfer[]>

  constructor(transfers: readonly OpenTransfer[], bankLines: readonly OpenBankLine[], payers: Payers) {
    for (const transfer of transfers) place(this.payouts, laneOf(transfer, transfer.source), transfer)
    for (const line of bankLines) {
      const payer = payers.named(line)
      if (payer !== null) place(this.lines, laneOf(line, payer), line)
    }
    this.bySource = groupBy([...transfers].sort(byDateAndId), transfer => laneOf(transfer, transfer.source))
  }

  /**
   * Whether an open payout of the same source, dated 0 to 30 days before one of the grouping's bank lines, or an open bank line that names it, dated 0 to
   * 30 days after one of its payouts, equals a member of its own side, or the grouping's sum, without being in it.
   */
  anyAlike({ bankLines, transfers }: Grouping): boolean {
    const [line] = bankLines as [OpenBankLine]
    const lane = laneOf(line, (transfers[0] as OpenTransfer).source)
    const sum = bankLines.length === 1 ? line.amount : (transfers[0] as OpenTransfer).amount
    const payouts = this.payouts.get(lane)
    if (payouts && anyBeside(payouts, transfers, { sum, near: day => bankLines.some(one => soonAfter(day, one.date)) }))
      return true
    const lines = this.lines.get(lane)
    return (
      lines !== undefined &&
      anyBeside(lines, bankLines, { sum, near: day => transfers.some(one => soonAfter(one.date, day)) })
    )
  }

  /**
   * Whether two open payouts of the same source, dated 0 to 30 days before the bank line of a group, outside it, add up to one of its payouts: they could
   * stand in that one's place, though too early for the window of the group.
   */
  anyTwoAlike({ bankLines, transfers }: Grouping): boolean {
    if (transfers.length < 2) return false
    const [line] = bankLines as [OpenBankLine]
    const beside = this.payoutsBefore(line, (transfers[0] as OpenTransfer).source, referenceDays)
      .filter(payout => payout.amount > 0 && !transfers.includes(payout))
      .map(payout => payout.amount)
    return transfers.some(({ amount }) => {
      const seen = new Set<number>()
      return beside.some(own => {
        if (seen.has(amount - own)) return true
        seen.add(own)
        return false
      })
    })
  }

  /** Open payouts of the same source and account that are equal to a payout and dated within 30 days of it, itself left out. */
  equalPayouts(payout: OpenTransfer): readonly OpenTransfer[] {
    const alike = this.payouts.get(laneOf(payout, payout.source))?.get(payout.amount) ?? []
    const day = dayNumber(payout.date)
    return alike.filter(other => other !== payout && Math.abs(dayNumber(other.date) - day) <= referenceDays)
  }

  /** Open payouts of a source dated 0 to so many days before a bank line, on its account. */
  payoutsBefore(line: OpenBankLine, source: string, days: number): readonly OpenTransfer[] {
    const all = this.bySource.get(laneOf(line, source)) ?? []
    const first = addDays(line.date, -days)
    let [low, high] = [0, all.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if ((all[middle] as OpenTransfer).date < first) low = middle + 1
      else high = middle
    }
    let end = low
    while (end < all.length && (all[end] as OpenTransfer).date <= line.date) end++
    return all.slice(low, end)
  }
}

const soonAfter = (earlier: string, later: string): boolean => {
  const days = dayNumber(later) - dayNumber(earlier)
  return days >= 0 && days <= referenceDays
}

/** Whether an item that is not among `own`, and near it, has the sum or the amount of one of them. */
const anyBeside = <One extends Item>(
  byAmount: ReadonlyMap<number, readonly One[]>,
  own: readonly One[],
  { sum, near }: { readonly sum: number; readonly near: (date: string) => boolean },
): boolean => {
  const beside = (amount: number): boolean => {
    const alike = byAmount.get(amount)
    return alike?.some(item => !own.includes(item) && near(item.date)) === true
  }
  return beside(sum) || (own.length > 1 && own.some(item => beside(item.amount)))
}

const laneOf = ({ bankAccount, currency }: Item, source: string): string =>
  `${bankAccount}\u0000${currency}\u0000${source}`

const place = <One extends Item>(lanes: Map<string, Map<number, One[]>>, lane: string, item: One): void => {
  let byAmount = lanes.get(lane)
  if (!byAmount) {
    byAmount = new Map()
    lanes.set(lane, byAmount)
  }
  const alike = byAmount.get(item.amount)
  if (alike) alike.push(item)
  else byAmount.set(item.amount, [item])
}
