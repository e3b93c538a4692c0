import type { AccountType, Kind } from '../activity/kinds.ts'
import { compareText } from './compareText.ts'

/** Conditions that a route can name besides its kind, the most decisive first. */
export const conditionNames = [
  'sku',
  'category',
  'location',
  'method',
  'gateway',
  'taxLabel',
  'region',
  'source',
] as const
export type ConditionName = (typeof conditionNames)[number]
export type Conditions = Readonly<Partial<Record<ConditionName, string | null>>>

export type Segments = Readonly<Record<string, string>>

/** One mapping row: lines of `kind` that meet every condition go to `account`, with `taxCode`. */
export interface Route extends Conditions {
  readonly id: number
  readonly kind: Kind
  /** Account code; null for lines that are all tax and whose code names the accounts, and where an item names it. */
  readonly account: string | null
  /** Code of the item that brings its own account and, unless `taxCode` is set, its own tax code. */
  readonly item?: string | null
  /** Booked by another document, such as an invoice made apart: the line is left out of the entry. */
  readonly elsewhere?: boolean
  /** What the source calls a tax is none but a charge: its tax code, if any, taxes it like a sale. */
  readonly charge?: boolean
  readonly taxCode: string | null
  readonly segments: Segments
  /** Stop for a person instead of booking. */
  readonly block: boolean
  /** First local date that it serves; null: always. */
  readonly from: string | null
}

/**
 * True for a route that makes a charge of what its source calls a tax: a bag levy, say, that goes to an income account.
 * Other lines of these kinds with a tax code are tax, wherever their route points.
 */
export const isChargeTo = (kind: Kind, account: AccountType | null): boolean =>
  (kind === 'tax' || kind === 'tax_refund') && (account === 'income' || account === 'other_income')

/** "name=value" joined by ";", sorted by name; `\`, `;` and `=` inside are preceded by a backslash. */
export const segmentsText = (segments: Segments): string =>
  Object.keys(segments)
    .sort(compareText)
    .map(name => `${escapeSegment(name)}=${escapeSegment(segments[name] as string)}`)
    .join(';')

const escapeSegment = (text: string): string => text.replace(/[\\;=]/g, '\\$&')
