import { isDate } from '@culvert/core'

type Part = 'day' | 'month' | 'year'

const orders = new Map<string, readonly Part[]>()
const monthNames = new Map<string, ReadonlyMap<string, number>>()

/** In which order a locale writes the numbers of a date. */
const orderOf = (locale: string): readonly Part[] => {
  const known = orders.get(locale)
  if (known) return known
  const order = new Intl.DateTimeFormat(locale, { day: '2-digit', month: '2-digit', year: 'numeric', timeZone: 'UTC' })
    .formatToParts(new Date(Date.UTC(2026, 2, 5)))
    .flatMap(({ type }) => (type === 'day' || type === 'month' || type === 'year' ? [type] : []))
  orders.set(locale, order)
  return order
}

/** Months by their names, whole and short, in a locale and in English, as which dates are shown. */
const monthsOf = (locale: string): ReadonlyMap<string, number> => {
  const known = monthNames.get(locale)
  if (known) return known
  const names = new Map<string, number>()
  for (const language of [locale, 'en'])
    for (const month of ['long', 'short'] as const)
      for (let at = 1; at <= 12; at++) {
        const name = new Intl.DateTimeFormat(language, { month, day: 'numeric', timeZone: 'UTC' })
          .formatToParts(new Date(Date.UTC(2026, at - 1, 5)))
          .find(part => part.type === 'month')?.value
        if (name) names.set(name.toLowerCase().replace('.', ''), at)
      }
  monthNames.set(locale, names)
  return names
}

const two = (number: number): string => String(number).padStart(2, '0')

/**
 * The date that a text says, as YYYY-MM-DD: written that way, in numbers in the locale's order, or with the month's name; null where it is none. A year of
 * two digits is of this century. @example typedDate('5/3/26', 'en-IE') // '2026-03-05'
 */
export const typedDate = (text: string, locale: string): string | null => {
  const parts = text
    .trim()
    .toLowerCase()
    .split(/[\s./,-]+/)
    .filter(Boolean)
  if (parts.length !== 3) return null
  const named = parts.findIndex(part => /\p{L}/u.test(part))
  const order: readonly Part[] =
    parts[0]?.length === 4
      ? ['year', 'month', 'day']
      : named === 0
        ? ['month', 'day', 'year']
        : named === 1
          ? ['day', 'month', 'year']
          : orderOf(locale)
  const at = (part: Part): string => parts[order.indexOf(part)] ?? ''
  const month = named >= 0 ? monthsOf(locale).get(at('month')) : Number(at('month'))
  const year = /^\d{2}$/.test(at('year')) ? `20${at('year')}` : at('year')
  if (!month || !/^\d{1,2}$/.test(at('day')) || !/^\d{4}$/.test(year)) return null
  const date = `${year}-${two(month)}-${two(Number(at('day')))}`
  return isDate(date) ? date : null
}
