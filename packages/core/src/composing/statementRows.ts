import type { WeightedLine } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { sumMinor } from '../money/minor.ts'
import { bucketOf } from './bucket.ts'
import type { Composed } from './composeSettlement.ts'
import type { PayoutLine, SettlementActivity } from './settlementActivity.ts'

/** A row of a settlement's statement beside its entries. Amounts in minor units of the settlement's currency. */
export interface StatementFigure {
  readonly kind: Kind
  readonly category: string | null
  readonly lines: number
  readonly amount: number
  readonly blocked: string | null
  /** Places, among the lines of all entries, of those that it went into. */
  readonly to: number[]
  readonly route: string | null
  readonly taxCode: string | null
  /** Collections that channels' tenders have booked: they book nothing here. */
  readonly matched: boolean
}

interface Figure {
  lines: number
  amount: number
  readonly buckets: Set<string>
  blocked: string | null
  route: string | null
  readonly taxCodes: Set<string>
  readonly matched: boolean
}

const figureKey = (line: { kind: Kind; category: string | null }, matched = false): string =>
  JSON.stringify([line.kind, line.category, matched])

/** What a statement is made of: the lines that book, those that tenders have booked, and the payouts. */
interface Stated {
  readonly activity: SettlementActivity
  readonly matched: readonly WeightedLine[]
}

/** The part of an entry that ties it to a statement: of each line its buckets. */
interface TiedEntry {
  readonly document: string
  readonly lines: readonly { readonly buckets: readonly string[] }[]
}

/** One row per kind and category; then the payouts. `entries` are those that stand, or that would be made. */
export const statementRows = (loaded: Stated, composed: Composed, entries: readonly TiedEntry[]): StatementFigure[] => {
  const figures = new Map<string, { kind: Kind; category: string | null } & Figure>()
  const figureOf = (line: { kind: Kind; category: string | null }, matched = false) => {
    const known = figures.get(figureKey(line, matched))
    if (known) return known
    const fresh = {
      kind: line.kind,
      category: line.category,
      lines: 0,
      amount: 0,
      buckets: new Set<string>(),
      blocked: null,
      route: null,
      taxCodes: new Set<string>(),
      matched,
    }
    figures.set(figureKey(line, matched), fresh)
    return fresh
  }
  const parted = new Set<string>()
  for (const line of loaded.activity.lines) {
    const figure = figureOf(line)
    // Parts of one line are one line.
    figure.lines += line.part && parted.has(line.part.lineId) ? 0 : line.count
    if (line.part) parted.add(line.part.lineId)
    figure.amount += line.amount
  }
  for (const line of loaded.matched) {
    const figure = figureOf(line, true)
    figure.lines += line.count
    figure.amount += line.amount
  }
  for (const { index, bucket, route } of composed.allocations) {
    const figure = figureOf(loaded.activity.lines[index] as WeightedLine)
    figure.buckets.add(bucket)
    figure.route = route ? `${route.account ?? ''}` : null
    const { taxCode } = bucketOf(bucket)
    if (taxCode !== '') figure.taxCodes.add(taxCode)
  }
  for (const block of composed.blocks)
    for (const concerned of block.concerned) {
      const figure = figures.get(figureKey(concerned))
      if (figure) figure.blocked = block.reason
    }
  const flat = entries.flatMap(entry => entry.lines.map(line => ({ line, document: entry.document })))
  const placesOf = (figure: Figure): number[] =>
    flat.flatMap(({ line, document }, place) =>
      document !== 'transfer' && line.buckets.some(bucket => figure.buckets.has(bucket)) ? [place] : [],
    )
  const rows = [...figures.values()].map(
    (figure): StatementFigure => ({
      kind: figure.kind,
      category: figure.category,
      lines: figure.lines,
      amount: figure.amount,
      blocked: figure.blocked,
      to: placesOf(figure),
      route: figure.route,
      taxCode: [...figure.taxCodes].sort().join(', ') || null,
      matched: figure.matched,
    }),
  )
  return [...rows, ...payoutRows(loaded.activity.payouts, flat)]
}

const payoutRows = (payouts: readonly PayoutLine[], flat: readonly { document: string }[]): StatementFigure[] => {
  const kindsSeen = [...new Set(payouts.map(payout => payout.kind))]
  return kindsSeen.map(kind => {
    const mine = payouts.filter(payout => payout.kind === kind)
    return {
      kind,
      category: null,
      lines: mine.length,
      amount: sumMinor(mine, payout => payout.amount),
      blocked: null,
      to: flat.flatMap((one, place) => (one.document === 'transfer' ? [place] : [])),
      route: null,
      taxCode: null,
      matched: false,
    }
  })
}
