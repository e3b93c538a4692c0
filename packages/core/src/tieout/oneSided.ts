import { goesBack, isTender } from '../activity/kindTraits.ts'
import { addDays } from '../activity/localDate.ts'
import { type GatewayLabels, gatewayOf } from '../mapping/gatewayLabels.ts'
import { addMinor } from '../money/minor.ts'
import type { TenderMatch } from './matchTenders.ts'
import type { TieOutLine } from './tieOutLine.ts'

/** What tie-out lists: money that only one side knows of, and matches whose amounts differ. */
export type OneSided =
  | 'tender_not_collected'
  | 'collected_without_order'
  | 'refund_not_paid'
  | 'refund_without_order'
  | 'amount_differs'

export interface OneSidedItem {
  readonly sort: OneSided
  /** Key of the gateway's source. */
  readonly gateway: string
  readonly line: TieOutLine
  /** The other side of a match whose amounts differ. */
  readonly other: TieOutLine | null
  /** Minor units, signed as the gateway signs them; of a match the difference. */
  readonly amount: number
}

/** A label that channels report as a means of payment and that stands for no source. */
export interface UnknownLabel {
  readonly label: string
  readonly currency: string
  readonly count: number
  /** Tendered by it, minor units, plus is money from customers. */
  readonly amount: number
}

/** Days that either side may lag behind the other before what it lacks is listed. */
export const daysOfGrace = 2

/**
 * Lists what is on one side only two days after its day, as known on `date` (local), and matches whose amounts differ. Tenders by a
 * label that is no source's are told apart, with their money.
 */
export const oneSided = (
  input: {
    readonly lines: readonly TieOutLine[]
    readonly matches: readonly TenderMatch[]
    readonly date: string
  },
  options: { readonly labels: GatewayLabels; readonly gateways: ReadonlySet<string> },
): { readonly items: OneSidedItem[]; readonly labels: UnknownLabel[] } => {
  const matched = new Set(input.matches.flatMap(match => [match.tender, match.collection]))
  const items: OneSidedItem[] = input.matches
    .filter(match => match.difference !== 0)
    .map(({ collection, tender, difference }) => ({
      sort: 'amount_differs',
      gateway: collection.source,
      line: collection,
      other: tender,
      amount: difference,
    }))
  const labels = new Map<string, UnknownLabel>()
  for (const line of input.lines) {
    if (matched.has(line)) continue
    const gateway = isTender(line.kind) ? gatewayOf(line, options.labels) : line.source
    if (gateway === null || (isTender(line.kind) && gateway === line.source)) continue
    if (!options.gateways.has(gateway)) {
      if (isTender(line.kind)) addLabel(labels, line)
      continue
    }
    if (addDays(line.localDate, daysOfGrace) >= input.date) continue
    items.push({
      sort: sortOf(line),
      gateway,
      line,
      other: null,
      amount: isTender(line.kind) ? negated(line.amount) : line.amount,
    })
  }
  items.sort(
    (left, right) =>
      left.line.instant - right.line.instant ||
      (left.line.lineId < right.line.lineId ? -1 : left.line.lineId === right.line.lineId ? 0 : 1),
  )
  return { items, labels: [...labels.values()] }
}

const negated = (amount: number): number => (amount === 0 ? 0 : -amount)

const sortOf = ({ kind }: TieOutLine): OneSided =>
  isTender(kind)
    ? goesBack(kind)
      ? 'refund_not_paid'
      : 'tender_not_collected'
    : goesBack(kind)
      ? 'refund_without_order'
      : 'collected_without_order'

const addLabel = (labels: Map<string, UnknownLabel>, line: TieOutLine): void => {
  const label = line.gateway ?? ''
  const key = JSON.stringify([label, line.currency])
  const before = labels.get(key)
  labels.set(key, {
    label,
    currency: line.currency,
    count: (before?.count ?? 0) + 1,
    amount: addMinor(before?.amount ?? 0, negated(line.amount)),
  })
}
