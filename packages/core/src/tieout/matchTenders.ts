import { goesBack, isCollection, isTender } from '../activity/kindTraits.ts'
import { foldName } from '../mapping/folded.ts'
import { type GatewayLabels, gatewayOf } from '../mapping/gatewayLabels.ts'
import { addMinor } from '../money/minor.ts'
import type { TieOutLine } from './tieOutLine.ts'

/** What two lines can be matched by, the most telling first. */
export const matchEvidence = ['order', 'reference', 'amount_day_name'] as const
export type FoundEvidence = (typeof matchEvidence)[number]
export type MatchEvidence = 'by_hand' | FoundEvidence

/** Two lines that somebody said are the same money. */
export interface TiedByHand {
  readonly tender: Pick<TieOutLine, 'source' | 'lineId'>
  readonly collection: Pick<TieOutLine, 'source' | 'lineId'>
}

export interface TenderMatch {
  readonly tender: TieOutLine
  readonly collection: TieOutLine
  readonly by: MatchEvidence
  /** What was collected beyond what was tendered, minor units, plus in the seller's favour; zero where they agree. */
  readonly difference: number
}

const byTime = (left: TieOutLine, right: TieOutLine): number =>
  left.instant - right.instant || (left.lineId < right.lineId ? -1 : left.lineId === right.lineId ? 0 : 1)

interface Sides {
  readonly tenders: TieOutLine[]
  readonly collections: TieOutLine[]
}

/**
 * Matches channels' tenders with gateways' collections that are the same money, one to one: those tied by hand, of the rest by the order, else by a
 * reference to it, else by amount, day and customer. Of several, equal amounts go first and the rest in order of time. A matched
 * collection books nothing, also where the amounts differ.
 */
export const matchTenders = (
  lines: readonly TieOutLine[],
  options: {
    readonly labels: GatewayLabels
    readonly evidence?: readonly FoundEvidence[]
    readonly byHand?: readonly TiedByHand[]
  },
): TenderMatch[] =>
  [...sidesByGateway(lines, options.labels).values()].flatMap(sides => {
    const open = { tenders: new Set(sides.tenders), collections: new Set(sides.collections) }
    const said = matchByHand(options.byHand ?? [], open)
    return [...said, ...(options.evidence ?? matchEvidence).flatMap(by => matchBy(by, open))]
  })

const nameOf = ({ source, lineId }: Pick<TieOutLine, 'source' | 'lineId'>): string => JSON.stringify([source, lineId])

const matchByHand = (ties: readonly TiedByHand[], open: OpenSides): TenderMatch[] => {
  if (ties.length === 0) return []
  const [tenders, collections] = [open.tenders, open.collections].map(
    side => new Map([...side].map(line => [nameOf(line), line])),
  ) as [Map<string, TieOutLine>, Map<string, TieOutLine>]
  return ties.flatMap(tie => {
    const tender = tenders.get(nameOf(tie.tender))
    const collection = collections.get(nameOf(tie.collection))
    if (!tender || !collection || !open.tenders.has(tender) || !open.collections.has(collection)) return []
    open.tenders.delete(tender)
    open.collections.delete(collection)
    return [{ tender, collection, by: 'by_hand', difference: addMinor(collection.amount, tender.amount) }]
  })
}

/** Tenders and collections of one gateway, currency and direction, in order of time. */
const sidesByGateway = (lines: readonly TieOutLine[], labels: GatewayLabels): Map<string, Sides> => {
  const groups = new Map<string, Sides>()
  for (const line of [...lines].sort(byTime)) {
    const gateway = isTender(line.kind) ? gatewayOf(line, labels) : isCollection(line.kind) ? line.source : null
    if (gateway === null || (isTender(line.kind) && gateway === line.source)) continue
    const key = JSON.stringify([gateway, line.currency, goesBack(line.kind)])
    const sides = groups.get(key) ?? { tenders: [], collections: [] }
    groups.set(key, sides)
    sides[isTender(line.kind) ? 'tenders' : 'collections'].push(line)
  }
  return groups
}

interface OpenSides {
  readonly tenders: Set<TieOutLine>
  readonly collections: Set<TieOutLine>
}

const matchBy = (by: FoundEvidence, open: OpenSides): TenderMatch[] => {
  const found = new Map<string, TieOutLine[]>()
  for (const collection of open.collections)
    for (const key of collectionKeys[by](collection)) {
      const list = found.get(key)
      if (list) list.push(collection)
      else found.set(key, [collection])
    }
  const matches: TenderMatch[] = []
  const take = (tender: TieOutLine, fits: (collection: TieOutLine) => boolean): void => {
    for (const key of tenderKeys[by](tender))
      for (const collection of found.get(key) ?? []) {
        if (!open.collections.has(collection) || !fits(collection)) continue
        open.collections.delete(collection)
        open.tenders.delete(tender)
        matches.push({ tender, collection, by, difference: addMinor(collection.amount, tender.amount) })
        return
      }
  }
  for (const tender of [...open.tenders]) take(tender, collection => collection.amount === -tender.amount)
  for (const tender of [...open.tenders]) take(tender, () => true)
  return matches
}

const text = (value: string | null): string[] => (value === null || value === '' ? [] : [value])
/** The same money on the same day from the same person; amounts as the gateway signs them. */
const amountDayName = (line: TieOutLine, collected: number): string[] => {
  const name = foldName(line.customer ?? '')
  return name === '' ? [] : [JSON.stringify([collected, line.localDate, name])]
}

const tenderKeys: Record<FoundEvidence, (line: TieOutLine) => string[]> = {
  order: line => text(line.orderId),
  reference: line => [...text(line.lineId), ...text(line.orderId)],
  amount_day_name: line => amountDayName(line, -line.amount),
}
const collectionKeys: Record<FoundEvidence, (line: TieOutLine) => string[]> = {
  order: line => text(line.orderId),
  reference: line => text(line.relatedId),
  amount_day_name: line => amountDayName(line, line.amount),
}
