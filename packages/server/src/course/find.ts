import type { FoundItem } from '@culvert/contract'
import { isCurrency, parseAmount } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const perSort = 6

/** What a person may mean by a text: an amount, a settlement's or order's or entry's number, an account, a reference. */
export const find = async (tx: Transaction, wanted: string): Promise<FoundItem[]> => {
  const text = wanted.trim()
  if (text === '') return []
  const { base } = await oneRow(tx, { base: is.text }, sql`SELECT base FROM client WHERE client_id = current_client()`)
  const items = [
    ...(await findEntries(tx, text)),
    ...(await findSettlements(tx, text)),
    ...(await findOrders(tx, text)),
    ...(await findAccounts(tx, text)),
    ...(await findBankLines(tx, sql`line_id = ${text}`)),
  ]
  const plain = text
    .replace(/[\s€$]/g, '')
    .replace(/−/g, '-')
    .replace(/,(?=\d{3}(\D|$))/g, '')
  const amount = isCurrency(base) ? parseAmount(plain, base) : { ok: false as const }
  return amount.ok ? [...(await findAmounts(tx, amount.minor)), ...items] : items
}

const settlementLink = (source: string, key: string, currency: string) =>
  `/settlements/${encodeURIComponent(source)}/${encodeURIComponent(key)}/${currency}`

const findAmounts = async (tx: Transaction, amount: number): Promise<FoundItem[]> => {
  const sizes = sql`ARRAY[${amount}::bigint, ${-amount}::bigint]`
  const entries = await rowsOf(
    tx,
    { number: is.text, date: is.date, account: is.text, amount: is.minor, currency: is.text },
    sql`
    SELECT fiscal_year || '-' || number AS number, date::text, account, amount, currency FROM entry_line
    WHERE client_id = current_client() AND amount = ANY(${sizes}) ORDER BY date DESC LIMIT ${perSort}`,
  )
  const lines = await rowsOf(
    tx,
    { source: is.text, line: is.text, date: is.date, kind: is.text, amount: is.minor, currency: is.text },
    sql`
    SELECT source, line_id AS line, local_date::text AS date, kind, amount, currency FROM activity_line
    WHERE client_id = current_client() AND amount = ANY(${sizes}) ORDER BY local_date DESC LIMIT ${perSort}`,
  )
  return [
    ...(await findBankLines(tx, sql`amount = ANY(${sizes})`)),
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
    WHERE client_id = current_client() AND (key ^@ ${text} OR key ^@ ${text.toUpperCase()}) ORDER BY key DESC LIMIT ${perSort}`,
  )
  return rows.map(row => ({
    sort: 'settlement',
    title: row.key,
    detail: `${row.source}, ${row.state.replace('_', ' ')}`,
    amount: row.payout,
    currency: row.currency,
    link: settlementLink(row.source, row.key, row.currency),
  }))
}

const findOrders = async (tx: Transaction, text: string): Promise<FoundItem[]> => {
  const rows = await rowsOf(
    tx,
    { order: is.text, lines: is.whole, amount: is.minor, currency: is.text },
    sql`
    SELECT order_id AS "order", count(*)::int AS lines, sum(amount)::bigint AS amount, currency FROM activity_line
    WHERE client_id = current_client() AND order_id = ${text} GROUP BY 1, 4 LIMIT ${perSort}`,
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

const findBankLines = async (tx: Transaction, where: SQL): Promise<FoundItem[]> => {
  const rows = await rowsOf(
    tx,
    { account: is.text, line: is.text, date: is.date, description: is.text, amount: is.minor, currency: is.text },
    sql`
    SELECT bank_account AS account, line_id AS line, date::text, description, amount, currency FROM bank_line
    WHERE client_id = current_client() AND ${where} ORDER BY date DESC LIMIT ${perSort}`,
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
