const dayMs = 86_400_000

// Books name few dates many times: what was worked out once is kept, of so many dates as a century has.
const knownDays = new Map<string, number>()
const mostKnownDays = 40_000

/** Days since 1970-01-01 of an ISO date. */
export const dayNumber = (date: string): number => {
  const known = knownDays.get(date)
  if (known !== undefined) return known
  const day = Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8, 10))) / dayMs
  if (knownDays.size < mostKnownDays) knownDays.set(date, day)
  return day
}

/** ISO date of a day number. */
export const dateOfDay = (day: number): string => new Date(day * dayMs).toISOString().slice(0, 10)

/** The date `days` later (earlier if negative). */
export const addDays = (date: string, days: number): string => dateOfDay(dayNumber(date) + days)

/** Whole days from `from` to `to`; negative if `to` is earlier. */
export const daysBetween = (from: string, to: string): number => dayNumber(to) - dayNumber(from)

export const monthOf = (date: string): string => date.slice(0, 7)

/** The month after one given as YYYY-MM. */
export const nextMonth = (month: string): string => {
  const year = Number(month.slice(0, 4))
  const next = Number(month.slice(5)) + 1
  return next > 12 ? `${year + 1}-01` : `${year}-${String(next).padStart(2, '0')}`
}

/** Last day of a month given as YYYY-MM. */
export const lastDayOfMonth = (month: string): string => {
  const year = Number(month.slice(0, 4))
  return new Date(Date.UTC(year, Number(month.slice(5, 7)), 0)).toISOString().slice(0, 10)
}

// A file names few dates many times; a date that was good once is not worked out again.
const goodDates = new Set<string>()
const mostGoodDates = 10_000

/** True for a date that exists, written YYYY-MM-DD. */
export const isDate = (text: string): boolean => {
  if (goodDates.has(text)) return true
  if (!/^(?!0000)\d{4}-\d\d-\d\d$/.test(text)) return false
  const day = dayNumber(text)
  const exists = Number.isFinite(day) && dateOfDay(day) === text
  if (exists && goodDates.size < mostGoodDates) goodDates.add(text)
  return exists
}
