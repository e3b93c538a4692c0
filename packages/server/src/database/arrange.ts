import { currenciesOf, decimalMark, isAmountText, plainText, withoutGroups } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { oneRow, type Transaction } from './connect.ts'
import { is } from './rows.ts'

/** A column of a list: what it is sorted by, and what it says as people read it, by the locale (BCP 47) of the client. */
export interface ListColumn {
  readonly order: SQL
  readonly written: (locale: string) => SQL
  /** It holds numbers: nothing else is looked for in it, and thousands marks are no matter. */
  readonly isNumber: boolean
}

/** How a list is wanted: by a column's name, a minus before it for the other way round; and only what holds a text. */
export interface Arrangement {
  readonly sort?: string | undefined
  readonly filter?: string | undefined
}

export const isArranged = ({ sort, filter }: Arrangement): boolean => Boolean(sort) || Boolean(filter?.trim())

export const textColumn = (text: SQL): ListColumn => ({
  order: sql`coalesce(${text}, '') COLLATE "C"`,
  written: () => sql`lower(${text})`,
  isNumber: false,
})

/** The number of an entry, as 2026-12: sorted by year and number, not as a text. */
export const entryColumn = (year: SQL, number: SQL): ListColumn => ({
  order: sql`(${year}::bigint * 1000000000 + ${number})`,
  written: () => sql`(${year} || '-' || ${number})`,
  isNumber: false,
})

export const countColumn = (count: SQL): ListColumn => ({
  order: count,
  written: () => sql`(${count})::text`,
  isNumber: true,
})

/** A date is found as it is read and as it is sorted: 5 Mar 2026 and 2026-03-05. */
export const dateColumn = (date: SQL): ListColumn => ({
  order: date,
  written: () => sql`lower(to_char(${date}, 'FMDD Mon YYYY ') || ${date}::text)`,
  isNumber: false,
})

const digitsOf = (currency: SQL): SQL =>
  sql`CASE ${sql.join(
    [0, 3, 4].map(
      digits => sql`WHEN ${currency} = ANY(${sql.param([...currenciesOf(digits)])}::text[]) THEN ${digits}::int`,
    ),
    sql` `,
  )} ELSE 2 END`

/** An amount, in minor units of a currency, is found with the locale's thousands marks and without them. */
export const amountColumn = (minor: SQL, currency: SQL): ListColumn => ({
  order: minor,
  written: locale => sql`amount_text(${minor}, ${digitsOf(currency)}, ${decimalMark(locale)})`,
  isNumber: true,
})

/** The locale (BCP 47) that the client's amounts are written by. */
export const localeOf = async (tx: Transaction): Promise<string> =>
  (await oneRow(tx, { locale: is.text }, sql`SELECT locale FROM client WHERE client_id = current_client()`)).locale

/** The condition that a row holds a text in one of its columns. */
export const holdsText = (
  columns: Readonly<Record<string, ListColumn>>,
  typed: string | undefined,
  locale: string,
): SQL => {
  const wanted = plainText((typed ?? '').trim())
  if (wanted === '') return sql`true`
  const looked = Object.values(columns)
    .filter(column => !column.isNumber || isAmountText(wanted))
    .map(column => {
      const text = column.isNumber ? withoutGroups(wanted, locale) : wanted
      return sql`strpos(${column.written(locale)}, ${text}) > 0`
    })
  return looked.length === 0 ? sql`false` : sql`(${sql.join(looked, sql` OR `)})`
}

/** What rows are ordered by before their list's own order, with its comma; nothing where no column of that name is. */
export const sortedBy = (columns: Readonly<Record<string, ListColumn>>, sort: string | undefined): SQL => {
  const down = sort?.startsWith('-') ?? false
  const column = columns[sort?.replace(/^-/, '') ?? '']
  if (!column) return sql``
  return down ? sql`${column.order} DESC NULLS LAST, ` : sql`${column.order} ASC NULLS FIRST, `
}
