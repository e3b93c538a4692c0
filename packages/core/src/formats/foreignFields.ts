import { isDate } from '../activity/localDate.ts'
import type { Zone } from '../activity/zone.ts'
import { parseInstant } from './fields.ts'

/** How a foreign file writes numbers: its decimal mark, and what it puts between thousands (empty: nothing). */
export interface NumberStyle {
  readonly decimal: '.' | ','
  readonly thousands: '' | ',' | '.' | ' ' | "'"
}
export const numberStyles: readonly NumberStyle[] = [
  { decimal: '.', thousands: '' },
  { decimal: ',', thousands: '' },
  { decimal: '.', thousands: ',' },
  { decimal: ',', thousands: '.' },
  { decimal: ',', thousands: ' ' },
  { decimal: '.', thousands: ' ' },
  { decimal: '.', thousands: "'" },
]

/** Order of year, month and day in a foreign file's dates. */
export type DateOrder = 'ymd' | 'dmy' | 'mdy'
export const dateOrders = ['ymd', 'dmy', 'mdy'] as const satisfies readonly DateOrder[]

const shapes = new Map<string, RegExp>()
const shapeOf = ({ decimal, thousands }: NumberStyle): RegExp => {
  const key = decimal + thousands
  const known = shapes.get(key)
  if (known) return known
  const space = '[ \\u00a0\\u202f]'
  const between = thousands === ' ' ? space : thousands.replace('.', '\\.')
  const whole = between === '' ? '\\d+' : `\\d{1,3}(?:${between}\\d{3})+|\\d+`
  const shape = new RegExp(`^(${whole})(?:${decimal === '.' ? '\\.' : ','}(\\d+))?$`)
  shapes.set(key, shape)
  return shape
}

/**
 * A foreign file's number as plain digits with a point, as activity.csv writes it; null where it is none in this style.
 * The minus may stand before, after, or be a pair of parentheses, as ledgers write it.
 * @example plainNumber('(1.234,50)', { decimal: ',', thousands: '.' }) // '-1234.50'
 */
export const plainNumber = (text: string, style: NumberStyle): string | null => {
  const signed = signOf(text.trim())
  const match = shapeOf(style).exec(signed.digits)
  if (!match) return null
  const whole = (match[1] as string).replace(/\D/g, '')
  return `${signed.negative ? '-' : ''}${whole}${match[2] === undefined ? '' : `.${match[2]}`}`
}

const signOf = (text: string): { readonly negative: boolean; readonly digits: string } => {
  if (text.startsWith('(') && text.endsWith(')')) return { negative: true, digits: text.slice(1, -1).trim() }
  if (/^[-−+]/.test(text)) return { negative: !text.startsWith('+'), digits: text.slice(1).trim() }
  if (/[-−]$/.test(text)) return { negative: true, digits: text.slice(0, -1).trim() }
  return { negative: false, digits: text }
}

const dateShape =
  /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})(?:(?:[T ]|, ?)(\d{1,2}):(\d\d)(?::(\d\d)(?:[.,]\d+)?)?(?: ?([AaPp])\.?[Mm]\.?)?)?$/

/**
 * A foreign file's date, or date and time, as ISO 8601 with offset; null where it is none in this order. A time with its own
 * offset keeps it; without one it is the local time of `zone`; a date alone is noon there, which no change of clocks moves.
 * @example isoTime('5.3.2026 14:30', 'dmy', zoneOf('Europe/Dublin')) // '2026-03-05T14:30:00+00:00'
 */
export const isoTime = (text: string, order: DateOrder, zone: Zone): string | null => {
  if (parseInstant(text) !== null) return text
  const match = dateShape.exec(text.trim())
  if (!match) return null
  const places = [match[1], match[2], match[3]] as [string, string, string]
  const [year, month, day] = [order.indexOf('y'), order.indexOf('m'), order.indexOf('d')].map(
    at => places[at] as string,
  )
  const date = `${year}-${month?.padStart(2, '0')}-${day?.padStart(2, '0')}`
  if (!isDate(date)) return null
  const clock = clockOf(match)
  if (clock === null) return null
  const local = Date.parse(`${date}T00:00:00Z`) + clock * 1000
  const instant = zone.instantOf(local)
  return withOffset(instant, Math.round((local - instant) / 60_000))
}

/** Seconds after midnight; noon where no time is told; null for a time that does not exist. */
const clockOf = (match: RegExpExecArray): number | null => {
  if (match[4] === undefined) return 12 * 3600
  const [hour, minute, second] = [Number(match[4]), Number(match[5]), Number(match[6] ?? 0)]
  const half = match[7]?.toLowerCase()
  if (minute > 59 || second > 59 || hour > (half ? 12 : 23) || (half && hour === 0)) return null
  const hours = half ? (hour % 12) + (half === 'p' ? 12 : 0) : hour
  return hours * 3600 + minute * 60 + second
}

// Where the clock skips the hour, the instant is the first after it, and so its offset is what the instant then shows.
const withOffset = (instant: number, offsetMinutes: number): string => {
  const size = Math.abs(offsetMinutes)
  const two = (part: number): string => String(part).padStart(2, '0')
  const local = new Date(instant + offsetMinutes * 60_000).toISOString().slice(0, 19)
  return `${local}${offsetMinutes < 0 ? '-' : '+'}${two(Math.floor(size / 60))}:${two(size % 60)}`
}

/** Those of a column's values that are numbers in some style: one that is none says nothing of how the others are written. */
export const readableNumbers = (values: readonly string[]): readonly string[] =>
  values.filter(value => numberStyles.some(style => plainNumber(value, style) !== null))

/** The same of dates. */
export const readableDates = (values: readonly string[], zone: Zone): readonly string[] =>
  values.filter(value => dateOrders.some(order => isoTime(value, order, zone) !== null))

/** Every style in which all of a column's values are numbers: where there is more than one, a person is asked. */
export const stylesThatRead = (values: readonly string[]): readonly NumberStyle[] => {
  const told = values.filter(value => value.trim() !== '')
  const fitting = numberStyles.filter(style => told.every(value => plainNumber(value, style) !== null))
  const readings = new Map(
    fitting.map(style => [JSON.stringify(told.map(value => plainNumber(value, style))), style] as const).reverse(),
  )
  return [...readings.values()].reverse()
}

/** Every order in which all of a column's values are dates: where there is more than one, a person is asked. */
export const ordersThatRead = (values: readonly string[], zone: Zone): readonly DateOrder[] => {
  const told = values.filter(value => value.trim() !== '')
  const fitting = dateOrders.filter(order => told.every(value => isoTime(value, order, zone) !== null))
  const readings = new Map(
    fitting.map(order => [told.map(value => isoTime(value, order, zone)).join(), order] as const).reverse(),
  )
  return [...readings.values()].reverse()
}
