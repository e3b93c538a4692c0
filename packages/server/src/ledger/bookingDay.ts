import { addDays, monthOf, nextMonth } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdMonths } from './periods.ts'

/** What an entry is dated by: the day that it has by its nature (local date), and the tax codes of its lines. */
export interface ToBook {
  readonly date: string
  readonly lines: readonly { readonly taxCode: string }[]
}

/** The days on which entries may be booked, as locks and filings stand. */
export interface BookingDays {
  /**
   * The day itself; or, where its month is locked, or the entry has a line that feeds a return of which the period that holds the day is filed, the first day in an open month
   * and in no filed period of a registration that the entry feeds. An entry without tax is moved by locks alone.
   */
  dayFor(entry: ToBook): string
}

interface Filing {
  readonly from: string
  readonly to: string
  /** Null: filed before registrations were kept; it counts for every code. */
  readonly registration: number | null
}

/** Loads what decides on which day an entry may be booked: the one place that every writer of entries asks. */
export const loadBookingDays = async (tx: Transaction): Promise<BookingDays> => {
  const locked = await rowsOf(
    tx,
    { month: is.text },
    sql`SELECT month FROM period WHERE client_id = current_client() AND locked ORDER BY month`,
  )
  const filings = await rowsOf(
    tx,
    { from: is.text, to: is.text, registration: is.maybe(is.whole) },
    sql`SELECT "from"::text, "to"::text, registration_id AS registration FROM tax_filing
      WHERE client_id = current_client() AND withdrawn_at IS NULL`,
  )
  const codes =
    filings.length === 0
      ? []
      : await rowsOf(
          tx,
          { code: is.text, registration: is.whole },
          sql`SELECT tax_code AS code, registration_id AS registration FROM registration_code WHERE client_id = current_client()`,
        )
  return bookingDays(
    new Set(locked.map(row => row.month)),
    filings,
    new Map(codes.map(row => [row.code, row.registration])),
  )
}

/** The same of what is given: locked months as YYYY-MM, filings that stand, and the registration of each code that has one. */
export const bookingDays = (
  locked: ReadonlySet<string>,
  filings: readonly Filing[],
  registrations: ReadonlyMap<string, number>,
): BookingDays => {
  // A code of no registration may feed any return: it is moved rather than slipped into a filed one.
  const feeds = (codes: readonly string[], { registration }: Filing): boolean =>
    codes.some(code => registration === null || (registrations.get(code) ?? registration) === registration)
  const openDay = (day: string): string => {
    let month = monthOf(day)
    if (!locked.has(month)) return day
    while (locked.has(month)) month = nextMonth(month)
    return `${month}-01`
  }
  return {
    dayFor: ({ date, lines }) => {
      const codes = [...new Set(lines.map(line => line.taxCode))].filter(code => code !== '')
      const fed = codes.length === 0 ? [] : filings.filter(filing => feeds(codes, filing))
      for (let day = date; ; ) {
        const open = openDay(day)
        const filed = fed.find(filing => filing.from <= open && open <= filing.to)
        if (!filed) return open
        day = addDays(filed.to, 1)
      }
    },
  }
}

/** The entry on the day on which it may be booked. */
export const dated = <Entry extends ToBook>(days: BookingDays, entry: Entry): Entry => ({
  ...entry,
  date: days.dayFor(entry),
})

/**
 * Holds the months of entries until the end of the transaction, in the order of locks, and looks again whether they may be booked on their days: locking and filing wait
 * for it. @throws Stale where one may not any more
 */
export const holdDays = async (tx: Transaction, entries: readonly ToBook[]): Promise<void> => {
  if (entries.length === 0) return
  const locked = await holdMonths(
    tx,
    entries.map(entry => entry.date),
  )
  if (locked.size > 0) throw new Stale('a period was locked')
  const days = await loadBookingDays(tx)
  if (entries.some(entry => days.dayFor(entry) !== entry.date)) throw new Stale('a tax period was filed')
}
