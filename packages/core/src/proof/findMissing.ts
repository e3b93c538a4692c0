import { addDays } from '../activity/localDate.ts'

/** Days of the past that say whether a source is usually busy on a weekday. */
const weeksLooked = 8
const weeksBusy = 7
/** Numbers missing between two statements, beyond which they are of two series. */
const mostMissing = 20

/**
 * Local dates between the first and the last on which nothing came in, though of the eight days a week, two weeks … before seven at
 * least were busy. `days`: those with activity.
 */
export const missingDays = (days: Iterable<string>): string[] => {
  const busy = new Set(days)
  const sorted = [...busy].sort()
  const [first, last] = [sorted[0], sorted.at(-1)]
  if (first === undefined || last === undefined) return []
  const missing: string[] = []
  for (let day = addDays(first, 7 * weeksLooked); day < last; day = addDays(day, 1)) {
    if (busy.has(day)) continue
    const before = Array.from({ length: weeksLooked }, (_, week) => addDays(day, -7 * (week + 1)))
    if (before.filter(date => busy.has(date)).length >= weeksBusy) missing.push(day)
  }
  return missing
}

/**
 * Numbers that lack between statements whose ids are one text but for a number at their end, in order of the ids.
 * @example missingNumbers(['OH-2621', 'OH-2622', 'OH-2624']) // ['OH-2623']
 */
export const missingNumbers = (ids: Iterable<string>): string[] => {
  const series = new Map<string, { digits: number; numbers: Set<number> }>()
  for (const id of ids) {
    const match = /^(.*?)(\d{1,12})$/.exec(id)
    if (!match) continue
    const [, prefix = '', text = ''] = match
    const one = series.get(prefix) ?? { digits: text.length, numbers: new Set() }
    series.set(prefix, one)
    one.numbers.add(Number(text))
  }
  return [...series].flatMap(([prefix, { digits, numbers }]) => {
    const sorted = [...numbers].sort((left, right) => left - right)
    return sorted.slice(1).flatMap((number, index) => {
      const gap = number - (sorted[index] as number) - 1
      if (gap > mostMissing) return []
      return Array.from({ length: gap }, (_, step) => prefix + String(number - gap + step).padStart(digits, '0'))
    })
  })
}
