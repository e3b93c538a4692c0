import { Temporal } from 'temporal-polyfill'
import { dateOfDay } from './localDate.ts'

const dayMs = 86_400_000

/** From `start` (ms since 1970) on, until the next interval's start, local clock = instant + `offset` (ms). */
interface OffsetInterval {
  readonly start: number
  readonly offset: number
}

/** A client's time zone: turns instants into local dates and business days. */
export interface Zone {
  readonly name: string
  /** Local calendar date of an instant (ms since 1970). */
  localDate(instant: number): string
  /** Business day with the given cut-off, minutes after midnight by the local clock. */
  businessDay(instant: number, cutOffMinutes: number): string
  /** First instant at which the local clock shows `local` (ms since 1970 as if it were UTC) or, where it skips it, later. */
  instantOf(local: number): number
}

const firstInstant = Date.UTC(1980, 0, 1)
const lastInstant = Date.UTC(2100, 0, 1)

// Asking Temporal for each line costs 30 µs; a zone has some 200 changes in all this time, looked up once.
const intervalsOf = (name: string): OffsetInterval[] => {
  let moment = Temporal.Instant.fromEpochMilliseconds(firstInstant).toZonedDateTimeISO(name)
  const intervals = [{ start: -Infinity, offset: moment.offsetNanoseconds / 1e6 }]
  for (;;) {
    const next = moment.getTimeZoneTransition('next')
    if (!next || next.epochMilliseconds > lastInstant) return intervals
    intervals.push({ start: next.epochMilliseconds, offset: next.offsetNanoseconds / 1e6 })
    moment = next
  }
}

const zones = new Map<string, Zone>()

/** The zone of an IANA name. @throws RangeError if there is no such zone. */
export const zoneOf = (name: string): Zone => {
  const known = zones.get(name)
  if (known) return known
  const zone = makeZone(name, intervalsOf(name))
  zones.set(name, zone)
  return zone
}

const makeZone = (name: string, intervals: readonly OffsetInterval[]): Zone => {
  const offsetAt = (instant: number): number => {
    let low = 0
    let high = intervals.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if ((intervals[middle] as OffsetInterval).start <= instant) low = middle
      else high = middle - 1
    }
    return (intervals[low] as OffsetInterval).offset
  }
  const localDay = (instant: number): number => Math.floor((instant + offsetAt(instant)) / dayMs)

  // The first instant of the day at which the clock shows the time or later; where it shows it twice, the first.
  const cutOff = (day: number, minutes: number): number => {
    const wanted = day * dayMs + minutes * 60_000
    let first = Number.POSITIVE_INFINITY
    intervals.forEach(({ start, offset }, index) => {
      const end = intervals[index + 1]?.start ?? Number.POSITIVE_INFINITY
      if (end + offset <= wanted || start + offset >= (day + 1) * dayMs) return
      const instant = Math.max(start, wanted - offset)
      if (instant < end && instant + offset < (day + 1) * dayMs) first = Math.min(first, instant)
    })
    return first === Number.POSITIVE_INFINITY ? cutOff(day + 1, 0) : first
  }
  const cutOffs = new Map<number, number>()
  const cachedCutOff = (day: number, minutes: number): number => {
    const key = day * 1440 + minutes
    const known = cutOffs.get(key)
    if (known !== undefined) return known
    const instant = cutOff(day, minutes)
    cutOffs.set(key, instant)
    return instant
  }
  const dates = new Map<number, string>()
  const dateText = (day: number): string => {
    const known = dates.get(day)
    if (known) return known
    const text = dateOfDay(day)
    dates.set(day, text)
    return text
  }
  const instantOf = (local: number): number => {
    for (const [index, { start, offset }] of intervals.entries()) {
      const instant = Math.max(start, local - offset)
      if (instant < (intervals[index + 1]?.start ?? Number.POSITIVE_INFINITY)) return instant
    }
    throw new RangeError(`not a time: ${local}`)
  }
  return {
    name,
    instantOf,
    localDate: instant => dateText(localDay(instant)),
    businessDay: (instant, minutes) => {
      const day = localDay(instant)
      if (instant < cachedCutOff(day, minutes)) return dateText(day - 1)
      return dateText(instant >= cachedCutOff(day + 1, minutes) ? day + 1 : day)
    },
  }
}

/** Minutes after midnight of a "HH:MM" cut-off. @throws RangeError for anything else. */
export const cutOffMinutes = (clock: string): number => {
  const match = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(clock)
  if (!match) throw new RangeError(`not a time of day: ${clock}`)
  return Number(match[1]) * 60 + Number(match[2])
}

/** True for a zone name that this runtime knows. */
export const isZone = (name: string): boolean => {
  try {
    zoneOf(name)
    return true
  } catch {
    return false
  }
}
