import { goesBack, isTender } from '../activity/kindTraits.ts'
import { daysBetween } from '../activity/localDate.ts'
import { compareText } from '../mapping/compareText.ts'
import { editDistance } from '../mapping/editDistance.ts'
import { foldName } from '../mapping/folded.ts'
import { decisionsOn, type MayWriteOff } from './decisions.ts'
import type { OneSidedItem } from './oneSided.ts'
import type { TieOutLine } from './tieOutLine.ts'

/** What speaks for two one-sided lines being the same money. */
export type CandidateEvidence = 'same_amount' | 'same_name' | 'like_order' | 'same_day'

export interface TieCandidate {
  readonly line: TieOutLine
  readonly evidence: readonly CandidateEvidence[]
  /** Local days from the tender to the collection; below zero where it came before. */
  readonly lag: number
  /** Collected beyond what was tendered, minor units, as a match of the two would say it. */
  readonly difference: number
}

/** Days that two sides of one payment may lie apart. */
export const mostDaysApart = 31

const candidatesShown = 8

/** One digit or letter other, or two neighbours changed over: an order's number mistyped. */
const isLike = (one: string | null, other: string | null): boolean =>
  one !== null && other !== null && one !== '' && other !== '' && editDistance(one, other, 1) <= 1

const evidenceOf = (tender: TieOutLine, collection: TieOutLine): CandidateEvidence[] => {
  const name = foldName(tender.customer ?? '')
  return [
    ...(tender.amount === -collection.amount ? (['same_amount'] as const) : []),
    ...(name !== '' && name === foldName(collection.customer ?? '') ? (['same_name'] as const) : []),
    ...(isLike(tender.orderId, collection.orderId) ? (['like_order'] as const) : []),
    ...(tender.localDate === collection.localDate ? (['same_day'] as const) : []),
  ]
}

/** Payments of the other side that one is held against whatever their amounts; where there are more, only those of its own amount. */
const mostCompared = 300

const sideOf = ({ line, gateway }: OneSidedItem, other: boolean): string =>
  JSON.stringify([gateway, line.currency, goesBack(line.kind), isTender(line.kind) !== other])

/** Finds what a one-sided payment may be the other side of. */
export type CandidateFinder = (item: OneSidedItem) => TieCandidate[]

/**
 * Finds what one-sided payments may be the other side of: open payments of the other side, of one gateway, currency and direction, that lie near
 * and for which anything speaks but the day alone. The most telling first.
 */
export const candidateFinder = (items: readonly OneSidedItem[]): CandidateFinder => {
  const sides = new Map<string, OneSidedItem[]>()
  const byAmount = new Map<string, OneSidedItem[]>()
  const put = (map: Map<string, OneSidedItem[]>, key: string, item: OneSidedItem): void => {
    const list = map.get(key)
    if (list) list.push(item)
    else map.set(key, [item])
  }
  for (const item of items.filter(one => one.other === null)) {
    put(sides, sideOf(item, false), item)
    put(byAmount, `${sideOf(item, false)} ${item.amount}`, item)
  }
  return item => {
    if (item.other) return []
    const all = sides.get(sideOf(item, true)) ?? []
    const pool =
      all.length <= mostCompared
        ? all
        : (byAmount.get(`${sideOf(item, true)} ${item.amount}`) ?? []).slice(0, mostCompared)
    return candidatesIn(pool, item)
  }
}

const candidatesIn = (pool: readonly OneSidedItem[], { line }: OneSidedItem): TieCandidate[] =>
  pool
    .flatMap(({ line: side }): TieCandidate[] => {
      const [tender, collection] = isTender(line.kind) ? [line, side] : [side, line]
      const lag = daysBetween(tender.localDate, collection.localDate)
      if (Math.abs(lag) > mostDaysApart) return []
      const evidence = evidenceOf(tender, collection)
      return evidence.every(one => one === 'same_day')
        ? []
        : [{ line: side, evidence, lag, difference: collection.amount + tender.amount }]
    })
    .sort(
      (left, right) =>
        weightOf(right) - weightOf(left) ||
        Math.abs(left.lag) - Math.abs(right.lag) ||
        compareText(left.line.lineId, right.line.lineId),
    )
    .slice(0, candidatesShown)

const weights: Record<CandidateEvidence, number> = { same_amount: 8, same_name: 4, like_order: 4, same_day: 1 }
const weightOf = ({ evidence }: TieCandidate): number => evidence.reduce((sum, one) => sum + weights[one], 0)

/** What is proposed of a one-sided payment. Nothing is where a person has to know more than the lines say. */
export type Proposal =
  | { readonly as: 'attached'; readonly to: TieOutLine; readonly evidence: readonly CandidateEvidence[] }
  | { readonly as: 'price_reduction' }

const isTelling = ({ evidence }: TieCandidate): boolean =>
  evidence.includes('same_amount') && (evidence.includes('same_name') || evidence.includes('like_order'))

/**
 * Proposes what to do about a one-sided payment. It is attached where one other payment of the same amount bears its name or a like order, and
 * neither of the two has another such; less collected than ordered, within what may be written off, is a price reduction.
 */
export const proposeDecision = (
  item: OneSidedItem,
  find: CandidateFinder,
  mayWriteOff: MayWriteOff,
): Proposal | null => {
  if (item.other) return decisionsOn(item, mayWriteOff).includes('price_reduction') ? { as: 'price_reduction' } : null
  const [best, ...rest] = find(item).filter(isTelling)
  if (!best || rest.length > 0) return null
  const theirs = find({ ...item, line: best.line, amount: amountAsGateway(best.line) }).filter(isTelling)
  return theirs.length === 1 ? { as: 'attached', to: best.line, evidence: best.evidence } : null
}

/** As the gateway signs it. */
const amountAsGateway = (line: TieOutLine): number =>
  isTender(line.kind) && line.amount !== 0 ? -line.amount : line.amount
