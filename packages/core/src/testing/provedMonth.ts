import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { isPayout, isReserve, isStock } from '../activity/kindTraits.ts'
import { zoneOf } from '../activity/zone.ts'
import { bookActivity, isBooked } from '../composing/bookActivity.ts'
import type { Setup } from '../composing/setup.ts'
import { sumMinor } from '../money/minor.ts'
import type { BookedMonth } from '../proof/proofOfBooked.ts'

export const zone = zoneOf('Europe/Dublin')
/** Lines booked whole, ready to be proved. */
export const monthOf = (
  lines: readonly ActivityLine[],
  setup: Setup,
  heads: ReadonlyMap<string, readonly SettlementHead[]> = new Map(),
): BookedMonth => ({
  setup,
  zone,
  lines,
  heads,
  booked: bookActivity({ lines, heads, zone, cutOffMinutes: 270 }, setup),
  pairings: null,
})

/** What the source behind a clearing account reports at the end of a date, from nothing but its own lines. */
export const heldAt = (lines: readonly ActivityLine[], setup: Setup, at: { account: string; date: string }): number =>
  sumMinor(lines, line => {
    const source = setup.sources.get(line.source)
    if (!source || source.clearing[line.currency] !== at.account) return 0
    if (source.shape === 'channel' && !isBooked(line, setup)) return 0
    if (line.status === 'failed' || isStock(line.kind) || zone.localDate(line.instant) > at.date) return 0
    if (isPayout(line.kind) && source.options.payoutsLeaveBalance === 'arrived') return 0
    const reserved = isReserve(line.kind) && source.options.reservesStayOnBalance && source.shape !== 'channel'
    if (reserved && isBooked(line, setup)) return 0
    return line.amount
  })
