import { daysBetween } from '../activity/localDate.ts'
import { addMinor } from '../money/minor.ts'
import type { Cause, CauseDocument, Proof } from './proveClearing.ts'

/** The most days of each age but the last: 0–7, 8–30, 31–60, over 60. */
export const ageLimits = [7, 30, 60] as const

/** Causes whose documents wait for something to happen: what was booked by hand, or rounded, does not get older. */
const waiting: ReadonlySet<Cause> = new Set([
  'blocked',
  'unposted',
  'after_cut_off',
  'payout_on_its_way',
  'unpaid_orders',
  'elsewhere',
  'correction',
])

/** What is open on an account at `date` (local), added up by age: four sums in minor units, the youngest first. */
export const ageOpen = (proof: Pick<Proof, 'causes'>, date: string): number[] => {
  const ages = [...ageLimits.map(() => 0), 0]
  const open = proof.causes.filter(cause => waiting.has(cause.cause)).flatMap(cause => cause.documents)
  for (const document of open) {
    const place = ageOf(document, date)
    ages[place] = addMinor(ages[place] as number, document.amount)
  }
  return ages
}

const ageOf = (document: CauseDocument, date: string): number => {
  const days = document.date === null ? 0 : daysBetween(document.date, date)
  const place = ageLimits.findIndex(limit => days <= limit)
  return place < 0 ? ageLimits.length : place
}
