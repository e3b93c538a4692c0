import { blockReasonWords } from '@culvert/contract'
import { type Kind, kinds } from '@culvert/core'

/** The name of a kind, with its category where it has one. */
export const kindText = (kind: Kind, category?: string | null): string =>
  category ? `${kinds[kind].label} · ${category}` : kinds[kind].label

/** Why a settlement is blocked, in words. */
export const reasonText = (reason: string): string => blockReasonWords[reason] ?? reason

const causes: Record<string, string> = {
  blocked: 'blocked',
  unposted: 'proposed, not posted',
  after_cut_off: 'happened before, booked after this date',
  payout_on_its_way: 'payout on its way',
  overdue: 'payout overdue',
  misdated: 'entry dated far from its lines',
  reserve_kept: 'reserve counted into the balance',
  pending: 'pending',
  unpaid_orders: 'tendered, never collected',
  elsewhere: 'booked by another document',
  correction: 'correction not booked',
  by_hand: 'made by hand',
  double: 'likely double',
  missing_day: 'day or statement missing',
  gap: 'gap between statements',
  order_open: 'order open for more than 14 days',
  exchange_rounding: 'exchange rounding',
  unexplained: 'unexplained',
}

/** A cause of a proof, in words. */
export const causeText = (cause: string): string => causes[cause] ?? cause

const types: Record<string, string> = {
  current_asset: 'current asset',
  fixed_asset: 'fixed asset',
  current_liability: 'current liability',
  other_income: 'other income',
  cost_of_sales: 'cost of sales',
}
export const accountTypeText = (type: string): string => types[type] ?? type
