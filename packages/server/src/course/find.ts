import type { FoundItem } from '@culvert/contract'
import { currencyDigits, isCurrency, isDate, kinds, typedAmount } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const perSort = 6

/**
 * What a person may mean by a text: an amount as the client writes it, with its cents or without; a date (YYYY-MM-DD); the number of a settlement, an
 * order, a line or an entry; a reference, what a bank line says, a customer, an account.
 */
export const find = async (tx: Transaction, wanted: string): Promise<FoundItem[]> => {
  const text = wanted.trim()
  if (text === '') return []
  const { base, locale } = await oneRow(
    tx,
    { base: is.text, locale: is.text },
    sql`SELECT base, locale FROM client WHERE client_id = current_client()`,
  )
  if (isDate(text)) return findDay(tx, text)
  const items = [
    ...(await findEntries(tx, text)),
    ...(await findSettlements(tx, text)),
    ...(await findOrders(tx, text)),
    ...(await findLines(tx, text)),
    ...(await findAccounts(tx, text)),
    ...(await findCustomers(tx, text)),
    ...(await findBankTexts(tx, text)),
  ]
  const sizes = isCurrency(base) ? sizesOf(text, base, locale) : null
  return sizes ? [...(await findAmounts(tx, sizes)), ...items] : items
}

/** Sizes that an amount as it is typed may mean: itself, and without its cents all that begin so. */
interface Sizes {
  readonly exact: number
  readonly last: number
}

const sizesOf = (text: string, base: string, locale: string): Sizes | null => {
  const plain = text.replace(/[€$£\s]|CA(?=\$)|US(?=\$)/g, '')
  const amount = typedAmount(plain, base, locale)
  if (!amount.ok || amount.minor === 0) return null
  const exact = Math.abs(amount.minor)
  const unit = 10 ** currencyDigits(base)
  const hasCents = /[.,]\d{1,2}$/.test(plain)
  return { exact, last: hasCents || exact % unit !== 0 ? exact : exact + unit - 1 }
}

const settlementLink = (source: string, key: string, currency: string) =>
  `/settlements/${encodeURIComponent(source)}/${encodeURIComponent(key)}/${currency}`

/** Condition that an amount is of these sizes, of either sign; and the order in which what is exactly that comes first. */
const isOf = ({ exact, last }: Sizes): SQL =>
  sql`(amount BETWEEN ${exact}::bigint AND ${last}::bigint OR amount BETWEEN ${-last}::bigint AND ${-exact}::bigint)`
const exactFirst = ({ exact }: Sizes): SQL => sql`(abs(amount) = ${exact}::bigint) DESC`

const findAmounts = async (tx: Transaction, sizes: Sizes): Promise<FoundItem[]> => {
  const entries = await rowsOf(
    tx,
    { number: is.text, date: is.date, account: is.text, amount: is.minor, currency: is.text },
    sql`
    SELECT fiscal_year || '-' || number AS number, date::text, account, amount, currency FROM entry_line
    WHERE client_id = current_client() AND ${isOf(sizes)} ORDER BY ${exactFirst(sizes)}, date DESC LIMIT ${perSort}`,
  )
  const lines = await rowsOf(
    tx,
    { source: is.text, line: is.text, date: is.date, kind: is.text, amount: is.minor, currency: is.text },
    sql`
    SELECT source, line_id AS line, local_date::text AS date, kind, amount, currency FROM line_as_of
    WHERE client_id = current_client() AND stands AND ${isOf(sizes)} ORDER BY ${exactFirst(sizes)}, local_date DESC LIMIT ${perSort}`,
  )
  return [
    ...(await findBankLines(tx, isOf(sizes), exactFirst(sizes))),
    ...entries.map(
      (row): FoundItem => ({
        sort: 'entry',
        title: `Entry ${row.number}`,
        detail: `${row.account}, ${row.date}`,
        amount: row.amount,
        currency: row.currency,
        link: `/books/entries/${row.number}`,
      }),
    ),
    ...lines.map(
      (row): FoundItem => ({
        sort: 'line',
        title: row.line,
        detail: `${row.kind}, ${row.date}`,
        amount: row.amount,
        currency: row.currency,
        link: `trace:line:${row.source}/${row.line}`,
      }),
    ),
  ]
}

const findEntries = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const match = /^(?:(\d{4})-)?0*(\d{1,9})$/.exec(text)
  if (!match) return []
  const year = match[1] === undefined ? sql`` : sql`AND fiscal_year = ${Number(match[1])}`
  const rows = await rowsOf(
    tx,
    { number: is.text, date: is.date, memo: is.text, currency: is.text },
    sql`
    SELECT fiscal_year || '-' || number AS number, date::text, memo, currency FROM entry
    WHERE client_id = current_client() AND number = ${Number(match[2])} ${year} ORDER BY fiscal_year DESC LIMIT ${perSort}`,
  )
  return rows.map(row => ({
    sort: 'entry',
    title: `Entry ${row.number}`,
    detail: `${row.memo}, ${row.date}`,
    amount: null,
    currency: null,
    link: `/books/entries/${row.number}`,
  }))
}

const findSettlements = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, key: is.text, currency: is.text, state: is.text, payout: is.minor },
    sql`
    SELECT source, key, currency, state, payout FROM settlement
    WHERE client_id = current_client() AND (key ^@ ${text} OR key ^@ ${text.toUpperCase()} OR payout_reference ^@ ${text}) ORDER BY key DESC LIMIT ${perSort}`,
  )
  return rows.map(settlementItem)
}

const settlementItem = (row: {
  readonly source: string
  readonly key: string
  readonly currency: string
  readonly state: string
  readonly payout: number
}): FoundItem => ({
  sort: 'settlement',
  title: row.key,
  detail: `${row.source}, ${row.state.replace('_', ' ')}`,
  amount: row.payout,
  currency: row.currency,
  link: settlementLink(row.source, row.key, row.currency),
})

const findOrders = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const rows = await rowsOf(
    tx,
    { order: is.text, lines: is.whole, amount: is.minor, currency: is.text },
    sql`
    SELECT order_id AS "order", count(*)::int AS lines, sum(amount)::bigint AS amount, currency FROM line_as_of
    WHERE client_id = current_client() AND stands AND order_id = ${text} GROUP BY 1, 4 LIMIT ${perSort}`,
  )
  return rows.map(row => ({
    sort: 'order',
    title: `Order ${row.order}`,
    detail: `${row.lines} lines`,
    amount: row.amount,
    currency: row.currency,
    link: `trace:order:${row.order}`,
  }))
}

const findAccounts = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const folded = text.toLowerCase()
  const accounts = await rowsOf(
    tx,
    { code: is.text, name: is.text, type: is.text, currency: is.text },
    sql`
    SELECT code, name, type, currency FROM account WHERE client_id = current_client() ORDER BY code`,
  )
  return accounts
    .filter(account => account.code.startsWith(text) || account.name.toLowerCase().includes(folded))
    .slice(0, perSort)
    .map(account => ({
      sort: 'account',
      title: `${account.code} ${account.name}`,
      detail: account.type.replace('_', ' '),
      amount: null,
      currency: null,
      link: `/books/register/${encodeURIComponent(account.code)}`,
    }))
}

const findBankLines = async (tx: Transaction, where: SQL, first: SQL | null = null): Promise<FoundItem[]> => {
  const rows = await rowsOf(
    tx,
    { account: is.text, line: is.text, date: is.date, description: is.text, amount: is.minor, currency: is.text },
    sql`
    SELECT bank_account AS account, line_id AS line, date::text, description, amount, currency FROM bank_line
    WHERE client_id = current_client() AND ${where} ORDER BY ${first ? sql`${first}, ` : sql``}date DESC LIMIT ${perSort}`,
  )
  return rows.map(row => ({
    sort: 'bank_line',
    title: row.description || row.line,
    detail: row.date,
    amount: row.amount,
    currency: row.currency,
    link: `/bank/${encodeURIComponent(row.account)}?around=${row.date}`,
  }))
}

/** Letters from which on texts are looked through for what they contain. */
const fewestLetters = 3

const findBankTexts = (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const contains = `%${text.replace(/[\\%_]/g, '\\$&')}%`
  return findBankLines(
    tx,
    text.length < fewestLetters
      ? sql`line_id = ${text}`
      : sql`(line_id = ${text} OR description ILIKE ${contains} OR reference ILIKE ${contains})`,
  )
}

const findLines = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, line: is.text, kind: is.kind, date: is.date, amount: is.minor, currency: is.text },
    sql`
    SELECT l.source, l.line_id AS line, l.kind, l.local_date::text AS date, l.amount, l.currency
    FROM source s JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.line_id = ${text} AND l.stands
    WHERE s.client_id = current_client() ORDER BY l.local_date DESC LIMIT ${perSort}`,
  )
  return rows.map(row => ({
    sort: 'line',
    title: row.line,
    detail: `${kinds[row.kind].label}, ${row.date}`,
    amount: row.amount,
    currency: row.currency,
    link: `trace:line:${row.source}/${row.line}`,
  }))
}

const findCustomers = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  if (text.length < fewestLetters) return []
  const begins = `${text.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`
  const rows = await rowsOf(
    tx,
    { customer: is.text, order: is.text, orders: is.whole, date: is.date },
    sql`
    SELECT p.customer, o.order, o.orders, o.date FROM (
      SELECT person_id, customer FROM personal WHERE client_id = current_client() AND lower(customer) LIKE ${begins}
      ORDER BY lower(customer) LIMIT ${perSort * 4}) p
    CROSS JOIN LATERAL (
      SELECT (array_agg(l.order_id ORDER BY l.local_date DESC))[1] AS order, count(DISTINCT l.order_id)::int AS orders, max(l.local_date)::text AS date
      FROM line_as_of l WHERE l.client_id = current_client() AND l.person_id = p.person_id AND l.kind = 'sale' AND l.stands) o
    WHERE o.order IS NOT NULL ORDER BY o.date DESC LIMIT ${perSort}`,
  )
  return rows.map(row => ({
    sort: 'customer',
    title: row.customer,
    detail: `${row.orders === 1 ? 'order' : `${row.orders} orders, the last`} ${row.order}, ${row.date}`,
    amount: null,
    currency: null,
    link: `trace:order:${row.order}`,
  }))
}

/** What there is of a day: settlements dated so, what the bank moved, and the way to its entries. */
const findDay = async (tx: Transaction, date: string): Promise<FoundItem[]> => {
  const settlements = await rowsOf(
    tx,
    { source: is.text, key: is.text, currency: is.text, state: is.text, payout: is.minor },
    sql`SELECT source, key, currency, state, payout FROM settlement WHERE client_id = current_client() AND entry_date = ${date}
      ORDER BY source, key LIMIT ${perSort}`,
  )
  return [
    ...settlements.map(settlementItem),
    ...(await findBankLines(tx, sql`date = ${date}`)),
    {
      sort: 'page',
      title: `Entries of ${date}`,
      detail: '',
      amount: null,
      currency: null,
      link: `/books/entries?from=${date}&to=${date}`,
    },
  ]
}
