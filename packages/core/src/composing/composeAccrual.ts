import { addDays, lastDayOfMonth, monthOf } from '../activity/localDate.ts'
import { sumWide } from '../money/minor.ts'
import { type Composed, composeSettlement } from './composeSettlement.ts'
import type { DraftEntry } from './draft.ts'
import { mirrorEntry } from './mirrorEntry.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import type { Setup } from './setup.ts'

export interface Accrual {
  readonly blocks: Composed['blocks']
  /** The month's activity, dated its last day, and its mirror on the next month's first; null when blocked or empty. */
  readonly entries: { readonly accrual: DraftEntry; readonly reversal: DraftEntry } | null
}

/**
 * Accrues the lines of `month` (YYYY-MM) that no ended settlement holds yet: composed like any others, but without payouts,
 * reversed the next day. Accrual, reversal and the settlement that holds them later come to the activity, in each month.
 */
export const composeAccrual = (activity: SettlementActivity, month: string, setup: Setup): Accrual => {
  const lines = activity.lines.filter(line => monthOf(line.localDate) === month)
  const day = lastDayOfMonth(month)
  const part: SettlementActivity = {
    ...activity,
    day,
    head: null,
    lines,
    payouts: [],
    sumOfLines: sumWide(lines, line => line.amount),
    lastDate: day,
  }
  const { blocks, entries } = composeSettlement(part, setup)
  const [accrual] = entries
  return { blocks, entries: accrual ? { accrual, reversal: mirrorEntry(accrual, addDays(day, 1)) } : null }
}
