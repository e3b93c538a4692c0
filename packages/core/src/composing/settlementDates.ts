import { daysBetween, lastDayOfMonth, monthOf } from '../activity/localDate.ts'
import type { PayoutLine, SettlementActivity } from './settlementActivity.ts'
import { defaultTiming, type Source, type Timing } from './setup.ts'

/** Date of the last of a settlement's entries: its business day, its end, or the date of its last line. */
export const endDate = (activity: SettlementActivity): string | null =>
  activity.day ?? activity.head?.periodEnd ?? activity.lastDate

/** A date of an entry, or the source's first day in these books where that is later. */
export const notBefore = (date: string, { options: { bookedFrom } }: Source): string =>
  bookedFrom !== null && date < bookedFrom ? bookedFrom : date

/**
 * Date of the entry that a line of a settlement is in. `end`: the date of the settlement's last entry; local dates. What a settlement over the
 * source's first day has of the months before is dated that day.
 */
export const entryDateOfLine = (localDate: string, end: string, source: Source): string => {
  if (!source.options.splitAtMonthEnd || monthOf(localDate) >= monthOf(end)) return end
  const date = notBefore(lastDayOfMonth(monthOf(localDate)), source)
  return date < end ? date : end
}

/** Local date that a payout is told for: the settlement's payout date where it has only this one, else its own. */
export const payoutDate = (payout: PayoutLine, activity: SettlementActivity): string => {
  const stated = activity.head?.payoutDate ?? null
  const payouts = activity.payouts.filter(line => line.kind === 'payout' && line.amount !== 0)
  return payout.kind === 'payout' && stated !== null && payouts.length === 1 ? stated : payout.localDate
}

/**
 * Whether a line of a settlement lies far from its entry, or a payout from its transfer (rules of proof, section 10): such a one is looked at by every proof, also
 * where it is past in all its dates.
 */
export const hasOddDates = (
  activity: SettlementActivity,
  source: Source,
  { misdatedDays, onItsWayDays }: Timing = defaultTiming,
): boolean => {
  const end = endDate(activity)
  const isOdd = (date: string, booked: string): boolean => {
    const days = daysBetween(date, booked)
    return days > misdatedDays || days < -1
  }
  return (
    (end !== null &&
      activity.lines.some(line => isOdd(line.localDate, entryDateOfLine(line.localDate, end, source)))) ||
    (end !== null && activity.lastDate !== null && daysBetween(activity.lastDate, end) < -1) ||
    activity.payouts.some(
      payout =>
        payout.amount !== 0 &&
        Math.abs(daysBetween(payout.localDate, notBefore(payoutDate(payout, activity), source))) > onItsWayDays,
    )
  )
}

/** What of a settlement is booked here: all of it; its payouts, where it had ended before the source's first day and was paid out since; or nothing. */
export type PartHere = 'all' | 'payouts' | 'nothing'

export const partBookedHere = (activity: SettlementActivity, source: Source): PartHere => {
  const { bookedFrom } = source.options
  if (bookedFrom === null) return 'all'
  const end = endDate(activity)
  const paid = activity.payouts.map(payout => payoutDate(payout, activity)).sort()
  const last = paid.at(-1) ?? null
  if (end === null && last === null) return 'all'
  if (end !== null && end >= bookedFrom) return 'all'
  return last !== null && last >= bookedFrom ? 'payouts' : 'nothing'
}

/** A settlement without what is booked elsewhere of it; it foots by all that it has, as before. */
export const bookedHere = (activity: SettlementActivity, source: Source): SettlementActivity => {
  const part = partBookedHere(activity, source)
  return part === 'all' ? activity : { ...activity, lines: [], payouts: part === 'payouts' ? activity.payouts : [] }
}
