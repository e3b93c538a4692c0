import { addDays, isDate } from '../activity/localDate.ts'

/** Weekdays of the past that say whether a source is usually busy on one, and how many of them must have been. */
const weeksLooked = 5
const weeksBusy = 4
/** Numbers missing between two statements, beyond which they are of two series. */
const mostMissing = 20

/**
 * Local dates before `until` on which nothing came in, though the source reported days before and after, and at least four of the last five such weekdays
 * (rules of proof, section 10). `days`: those with activity. `until`: the date of the proof; absent: all days there are.
 */
export const missingDays = (days: Iterable<string>, until = '9999-12-31'): string[] => {
  const busy = new Set(days)
  const sorted = [...busy].sort()
  const [first, last] = [sorted[0], sorted.at(-1)]
  if (first === undefined || last === undefined) return []
  const missing: string[] = []
  for (let day = addDays(first, 7); day < last && day < until; day = addDays(day, 1)) {
    if (busy.has(day)) continue
    const before = Array.from({ length: weeksLooked }, (_, week) => addDays(day, -7 * (week + 1)))
    if (before.filter(date => busy.has(date)).length >= weeksBusy) missing.push(day)
  }
  return missing
}

interface Numbered {
  readonly prefix: string
  readonly digits: number
  readonly number: number
}

const asDay = (year: string, month: string, day: string): boolean =>
  /^(19|20)\d\d$/.test(year) && isDate(`${year}-${month}-${day}`)

/** Whether digits, or all of an id, are a day written as a number: 20260331, 31032026, 2026-03-31. */
const isWrittenDay = (id: string, digits: string): boolean => {
  const whole = id.replace(/^.*?(\d{4})\D(\d\d)\D(\d\d)$/, '$1$2$3')
  for (const text of [digits, whole]) {
    if (!/^\d{8}$/.test(text)) continue
    if (asDay(text.slice(0, 4), text.slice(4, 6), text.slice(6))) return true
    if (asDay(text.slice(4), text.slice(2, 4), text.slice(0, 2))) return true
  }
  return /\d{1,2}\D\d{1,2}\D(19|20)\d\d$/.test(id)
}

const numberedId = (id: string): Numbered | null => {
  const match = /^(.*?)(\d{1,12})$/.exec(id)
  if (!match) return null
  const [, prefix = '', digits = ''] = match
  return isWrittenDay(id, digits) ? null : { prefix, digits: digits.length, number: Number(digits) }
}

/** Whether half of the numbers or more follow the one before, or there are but two: a source that numbers by tens, or by days or weeks, leaves none out. */
const countsByOnes = (sorted: readonly number[]): boolean => {
  const steps = sorted.slice(1).map((number, index) => number - (sorted[index] as number))
  return steps.length === 1 || 2 * steps.filter(step => step === 1).length >= Math.max(1, steps.length)
}

/**
 * Numbers left out between statements whose ids are one text but for a number at their end that counts by ones, in order of the ids. Days written as
 * numbers are none.
 * @example missingNumbers(['OH-2621', 'OH-2622', 'OH-2624']) // ['OH-2623']
 */
export const missingNumbers = (ids: Iterable<string>): string[] => {
  const series = new Map<string, { digits: number; numbers: Set<number> }>()
  for (const id of ids) {
    const numbered = numberedId(id)
    if (!numbered) continue
    const found = series.get(numbered.prefix) ?? { digits: numbered.digits, numbers: new Set() }
    series.set(numbered.prefix, found)
    found.numbers.add(numbered.number)
  }
  return [...series].flatMap(([prefix, { digits, numbers }]) => {
    const sorted = [...numbers].sort((left, right) => left - right)
    if (!countsByOnes(sorted)) return []
    return sorted.slice(1).flatMap((number, index) => {
      const gap = number - (sorted[index] as number) - 1
      if (gap > mostMissing) return []
      return Array.from({ length: gap }, (_, step) => prefix + String(number - gap + step).padStart(digits, '0'))
    })
  })
}
