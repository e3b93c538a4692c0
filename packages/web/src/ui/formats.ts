import { printAmount } from '@culvert/core'

/** Minor units as people read them, zero as a thin dash. */
export const amountText = (minor: number, currency: string, locale: string): string =>
  minor === 0 ? '–' : printAmount(minor, currency, locale)

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** 2026-03-05 as 5 Mar 2026; no date is nothing. */
export const dateText = (date: string | null): string =>
  date === null || date === ''
    ? ''
    : `${Number(date.slice(8, 10))} ${months[Number(date.slice(5, 7)) - 1]} ${date.slice(0, 4)}`

/** 2026-03-05 as 5 Mar. */
export const dayText = (date: string): string => `${Number(date.slice(8, 10))} ${months[Number(date.slice(5, 7)) - 1]}`

/** 2026-03 as Mar 2026. */
export const monthText = (month: string): string => `${months[Number(month.slice(5, 7)) - 1]} ${month.slice(0, 4)}`

/** First and last date of a range, the year said once. */
export const rangeText = (from: string | null, to: string | null): string => {
  if (from === null || to === null) return dateText(from ?? to)
  if (from === to) return dateText(to)
  if (from.slice(0, 7) === to.slice(0, 7)) return `${Number(from.slice(8))} – ${dateText(to)}`
  return `${from.slice(0, 4) === to.slice(0, 4) ? dayText(from) : dateText(from)} – ${dateText(to)}`
}

/** A moment as 21 Jun 2026, 23:00 in the client's time zone. */
export const momentText = (moment: string | null, timeZone: string): string => {
  if (moment === null) return ''
  const at = new Date(moment.replace(' ', 'T').replace(/([+-]\d\d)$/, '$1:00'))
  if (Number.isNaN(at.getTime())) return moment
  const parts = Object.fromEntries(
    new Intl.DateTimeFormat('en-GB', {
      timeZone,
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    })
      .formatToParts(at)
      .map(part => [part.type, part.value]),
  )
  return `${dateText(`${parts.year}-${parts.month}-${parts.day}`)}, ${parts.hour}:${parts.minute}`
}

/** Whose time it is: “Dublin time” for Europe/Dublin. */
export const zoneText = (timeZone: string): string =>
  `${(timeZone.split('/').at(-1) ?? timeZone).replaceAll('_', ' ')} time`

/** "1 line", "2 lines", "1,284 lines". */
export const countText = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en-IE')} ${count === 1 ? one : many}`

const signs: Record<string, string> = { EUR: '€', USD: 'US$', CAD: 'CA$', GBP: '£' }
export const currencySign = (currency: string): string => signs[currency] ?? currency

/** A sentence of the server's with its ISO dates as people read them. */
export const readableDates = (text: string): string => text.replace(/\b\d{4}-\d\d-\d\d\b/g, date => dateText(date))
