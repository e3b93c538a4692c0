import { holds } from '@culvert/core'
import type { ReactNode } from 'react'
import { amountText, dateText } from '../formats.ts'

/** An amount of a row: minor units of a currency; null where it has none. */
export interface Money {
  readonly minor: number | null
  readonly currency: string
}

export interface SheetColumn<Row> {
  readonly id: string
  readonly head: ReactNode
  readonly cell: (row: Row) => ReactNode
  /** What the column sorts and filters by; a column without it, and without `money`, does neither. */
  readonly value?: (row: Row) => string | number | null
  /** What it sorts by, where that is not as it is written. */
  readonly order?: (row: Row) => number
  /** The amount that the cell shows: sorted by, filtered as it is written, added up of what is selected. */
  readonly money?: (row: Row) => Money
  readonly right?: boolean
  readonly width?: string
  /** Its words go on over several lines. */
  readonly wraps?: boolean
  /** What stands in it begins at the top of the row. */
  readonly top?: boolean
  /** So it does, and reaches to its edges. */
  readonly flush?: boolean
  /** Links and buttons stand among its words. */
  readonly words?: boolean
  /** It shows codes and references. */
  readonly mono?: boolean
  /** Something is chosen or typed in it, and what it is chosen from reaches beyond the cell. */
  readonly picks?: boolean
}

export const isSorted = <Row>({ value, money }: SheetColumn<Row>): boolean => (value ?? money) !== undefined

/** What a row is sorted by in a column. */
export const sortValue = <Row>({ order, value, money }: SheetColumn<Row>, row: Row): string | number =>
  (order ? order(row) : value ? value(row) : money?.(row).minor) ?? ''

/** The place of an entry among all, by its number as it is written: 2026-9 before 2026-10; none first. */
export const entryOrder = (number: string | null): number => {
  const [year = 0, place = 0] = (number ?? '').split('-').map(Number)
  return year * 1e9 + place
}

/** What a row says in a column, as it is written there: amounts with the locale's marks, dates both as read and as sorted. */
export const writtenIn = <Row>(column: SheetColumn<Row>, row: Row, locale: string): string => {
  const money = column.money?.(row)
  if (money) return money.minor === null ? '' : amountText(money.minor, money.currency, locale)
  const value = column.value?.(row) ?? ''
  return typeof value === 'string' && /^\d{4}-\d\d-\d\d$/.test(value) ? `${dateText(value)} ${value}` : String(value)
}

/** Sum of a column's amounts; null where it has none, or they are of several currencies. */
export const sumOf = <Row>({ money }: SheetColumn<Row>, rows: readonly Row[]): Money | null => {
  if (!money || rows.length === 0) return null
  const amounts = rows.map(money)
  const currency = amounts[0]?.currency ?? ''
  if (amounts.some(one => one.currency !== currency)) return null
  return { minor: amounts.reduce((sum, one) => sum + (one.minor ?? 0), 0), currency }
}

/** Whether a row holds a text in one of its columns, as they are written. */
export const isHeld = <Row>(columns: readonly SheetColumn<Row>[], row: Row, typed: string, locale: string): boolean =>
  typed.trim() === '' ||
  columns.some(column => isSorted(column) && holds(writtenIn(column, row, locale), typed, locale))
