import { addMinor } from '../money/minor.ts'
import type { Decision, PaymentAct, Readiness } from './decideAct.ts'

/** A collection with what is decided about it. Minor units of its currency. */
export interface DraftRow {
  readonly collection: string
  readonly currency: string
  readonly amount: number
  readonly decision: Decision
}

/** What a draft would record in one act, added up: it is shown before anything is recorded. */
export interface DraftSum {
  readonly act: PaymentAct['act']
  readonly readiness: Readiness
  readonly currency: string
  readonly count: number
  readonly amount: number
}

/** Adds a draft up by act, readiness and currency, in the order in which they first come. What is left is in it, so that nothing is lost. */
export const sumDraft = (rows: readonly DraftRow[]): DraftSum[] => {
  const sums = new Map<string, DraftSum>()
  for (const { decision, currency, amount } of rows) {
    const { what, readiness } = decision
    const key = JSON.stringify([what.act, readiness, currency])
    const before = sums.get(key)
    sums.set(key, {
      act: what.act,
      readiness,
      currency,
      count: (before?.count ?? 0) + 1,
      amount: addMinor(before?.amount ?? 0, amount),
    })
  }
  return [...sums.values()]
}

/** The rows that are recorded when the draft is: what the table does by itself, and what a person agreed to of what it proposes. */
export const recorded = (rows: readonly DraftRow[], agreed: ReadonlySet<string>): DraftRow[] =>
  rows.filter(
    ({ collection, decision }) =>
      decision.what.act !== 'leave' &&
      (decision.readiness === 'done' || (decision.readiness === 'proposed' && agreed.has(collection))),
  )
