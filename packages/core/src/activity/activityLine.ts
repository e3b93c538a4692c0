import type { Kind } from './kinds.ts'

export const statuses = ['available', 'pending', 'failed'] as const
export type Status = (typeof statuses)[number]

/** The values of a line that a route can name. Empty is null. */
export interface RoutingValues {
  readonly source: string
  readonly kind: Kind
  readonly category: string | null
  readonly sku: string | null
  readonly location: string | null
  readonly gateway: string | null
  readonly method: string | null
  readonly taxLabel: string | null
  readonly region: string | null
}

/** One movement at a source. Amounts in minor units of `currency`, signed from the seller's side. */
export interface ActivityLine extends RoutingValues {
  readonly lineId: string
  readonly settlementId: string | null
  /** As the source wrote it, ISO 8601 with offset. */
  readonly occurredAt: string
  /** The moment that decides its day, month and rates, milliseconds since 1970: the same, unless its source counts by payment or dispatch. */
  readonly instant: number
  /** That moment as the source wrote it, where it is another. */
  readonly countsAt?: string
  readonly orderId: string | null
  readonly description: string | null
  readonly quantity: string | null
  readonly unitPrice: number | null
  readonly customer: string | null
  readonly email: string | null
  readonly shipTo: string | null
  readonly currency: string
  readonly amount: number
  /** The part of `amount` that is tax, with its sign; null when not stated. */
  readonly taxAmount: number | null
  readonly relatedId: string | null
  readonly status: Status
  /** It says that it is available, and is pending only until what its source counts by has happened. */
  readonly held?: true
  readonly availableAt: string | null
  readonly url: string | null
  /** Columns that Culvert does not know, kept with the line. */
  readonly extra: Readonly<Record<string, string>>
}

/** Further texts of a line that rules can look at. */
export const ruleTexts = [
  'lineId',
  'settlementId',
  'orderId',
  'description',
  'quantity',
  'customer',
  'email',
  'shipTo',
  'currency',
  'relatedId',
  'url',
] as const
export type RuleText = (typeof ruleTexts)[number]

/**
 * Lines alike in routing values, in whether they state a tax and in the local date, or in the stretch of days within which nothing that decides
 * changes (`localDate` is then its first that there are lines of), added up: what composing works on. A single line is the case `count` 1. With tax rounded per line, only lines of equal amount are added up.
 */
export interface WeightedLine extends RoutingValues {
  readonly localDate: string
  readonly amount: number
  readonly taxAmount: number | null
  readonly count: number
  /** What a supply is taxed by where that is not decided by the line alone: the date, region and class of what it belongs to or goes along with. */
  readonly supply?: {
    readonly date: string
    readonly region: string | null
    readonly class: string
    /** It goes back to a supply, and none is known. */
    readonly lost?: true
    /** It goes along with its order's goods, and none are known. */
    readonly unsplit?: true
  }
  /** The line that this is only a part of: what it comes to as a whole, minor units. */
  readonly part?: { readonly lineId: string; readonly whole: number }
  /** Those texts that a client's rules name; lines added up are alike in them. */
  readonly texts?: Readonly<Partial<Record<RuleText, string | null>>>
}

/** What a source says of one settlement. Local dates; balances in minor units, null where it states none. */
export interface SettlementHead {
  readonly settlementId: string
  readonly periodStart: string | null
  readonly periodEnd: string | null
  readonly currency: string
  readonly openingBalance: number | null
  readonly closingBalance: number | null
  readonly payoutDate: string | null
  readonly payoutReference: string | null
  readonly url: string | null
}
