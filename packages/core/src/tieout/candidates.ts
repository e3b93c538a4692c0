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

/**
 * What a one-sided payment may be the other side of: open payments of the other side, of its gateway, currency and direction, that lie near
 * and for which anything speaks but the day alone. The most telling first.
 */
export const tieCandidates = (item: OneSidedItem, items: readonly OneSidedItem[]): TieCandidate[] => {
  const { line } = item
  if (item.other) return []
  return items
    .filter(
      ({ line: side, other, gateway }) =>
        other === null &&
        gateway === item.gateway &&
        side.currency === line.currency &&
        isTender(side.kind) !== isTender(line.kind) &&
        goesBack(side.kind) === goesBack(line.kind),
    )
    .flatMap(({ line: side }): TieCandidate[] => {
      const [tender, collection] = isTender(line.kind) ? [line, side] : [side, line]
      const lag = daysBetween(tender.localDate, collection.localDate)
      const evidence = evidenceOf(tender, collection)
      return Math.abs(lag) > mostDaysApart || evidence.every(one => one === 'same_day')
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
}

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
  items: readonly OneSidedItem[],
  mayWriteOff: MayWriteOff,
): Proposal | null => {
  if (item.other) return decisionsOn(item, mayWriteOff).includes('price_reduction') ? { as: 'price_reduction' } : null
  const [best, ...rest] = tieCandidates(item, items).filter(isTelling)
  if (!best || rest.length > 0) return null
  const back = items.find(one => one.line === best.line)
  const theirs = back ? tieCandidates(back, items).filter(isTelling) : []
  return theirs.length === 1 ? { as: 'attached', to: best.line, evidence: best.evidence } : null
}
