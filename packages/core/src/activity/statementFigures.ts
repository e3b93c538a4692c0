import { addMinor } from '../money/minor.ts'
import { type Kind, kinds, type StatementPart } from './kinds.ts'

/** The figures of a settlement from gross to payout, minor units. Fees are negative; `payout` is what was paid out. */
export interface StatementFigures {
  /** What was sold and charged, with its tax. */
  readonly gross: number
  readonly fees: number
  readonly held: number
  readonly payout: number
  /** Sum of all lines: what footing is judged on. */
  readonly balance: number
}

/** Adds up amounts per kind into the statement's figures. Tax beside the price counts into gross; tenders, which say how it was paid, do not. */
export const statementFigures = (sums: Iterable<{ kind: Kind; amount: number }>): StatementFigures => {
  const parts: Record<StatementPart, number> = { gross: 0, tax: 0, fees: 0, held: 0, tenders: 0, payout: 0 }
  for (const { kind, amount } of sums) parts[kinds[kind].part] = addMinor(parts[kinds[kind].part], amount)
  return {
    gross: addMinor(parts.gross, parts.tax),
    fees: parts.fees,
    held: parts.held,
    payout: -parts.payout || 0,
    balance: addMinor(...Object.values(parts)),
  }
}
