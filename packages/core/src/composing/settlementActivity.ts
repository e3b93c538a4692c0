import type { SettlementHead, WeightedLine } from '../activity/activityLine.ts'
import type { Wide } from '../money/minor.ts'

/** A payout or returned payout of a source. Minor units; minus leaves the source's balance. */
export interface PayoutLine {
  readonly lineId: string
  readonly kind: 'payout' | 'payout_returned'
  readonly amount: number
  readonly localDate: string
  readonly region: string | null
}

/** Lines of one settlement, or of one business day of a source, ready to be composed. */
export interface SettlementActivity {
  readonly source: string
  readonly currency: string
  readonly settlementId: string | null
  /** Business day, where lines have no settlement. */
  readonly day: string | null
  readonly head: SettlementHead | null
  /** Available lines that are booked: neither payouts nor collections that a tender has booked. */
  readonly lines: readonly WeightedLine[]
  readonly payouts: readonly PayoutLine[]
  /** Sum of all available lines, payouts and left-out ones too; what footing is judged on. */
  readonly sumOfLines: Wide
  /** Local date of the last line, by instant, that is no payout. */
  readonly lastDate: string | null
}
