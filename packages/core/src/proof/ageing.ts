import { daysBetween } from '../activity/localDate.ts'
import { sumMinor } from '../money/minor.ts'
import type { Cause, CauseDocument, Proof } from './proveClearing.ts'

/** The most days of each age but the last: 0–7, 8–30, 31–60, over 60. */
export const ageLimits = [7, 30, 60] as const

/** Causes whose documents wait for something to happen: what was booked by hand, or rounded, does not get older. */
const waiting: ReadonlySet<string> = new Set<Cause>([
  'blocked',
  'unposted',
  'after_cut_off',
  'payout_on_its_way',
  'overdue',
  'misdated',
  'unpaid_orders',
  'elsewhere',
  'correction',
])

/** What is open on an account at `date` (local), added up by age: four sums in minor units, the youngest first. */
export const ageOpen = (proof: Pick<Proof, 'causes'>, date: string): number[] =>
  openByAge(proof.causes, date).map(documents => sumMinor(documents, document => document.amount))

/** The documents that are open on an account at `date` (local), by age: four lists, the youngest first. */
export const openByAge = <Document extends Pick<CauseDocument, 'date'>>(
  causes: readonly { readonly cause: string; readonly documents: readonly Document[] }[],
  date: string,
): Document[][] => {
  const ages: Document[][] = [...ageLimits.map(() => []), []]
  for (const document of causes.filter(cause => waiting.has(cause.cause)).flatMap(cause => cause.documents))
    ages[ageOf(document, date)]?.push(document)
  return ages
}

const ageOf = (document: Pick<CauseDocument, 'date'>, date: string): number => {
  const days = document.date === null ? 0 : daysBetween(document.date, date)
  const place = ageLimits.findIndex(limit => days <= limit)
  return place < 0 ? ageLimits.length : place
}
