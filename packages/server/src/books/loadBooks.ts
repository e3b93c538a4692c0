import type { ChartPage, EntryList, EntryPage, RegisterPage } from '@culvert/contract'
import { type SQL, sql } from 'drizzle-orm'
import {
  type Arrangement,
  amountColumn,
  dateColumn,
  entryColumn,
  holdsText,
  isArranged,
  type ListColumn,
  localeOf,
  sortedBy,
  textColumn,
} from '../database/arrange.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isBound, sumCurrency } from '../ledger/accountMoney.ts'

/** The chart of accounts with balances up to a date (null: all), each in the money that its lines add up in. */
export const loadChart = async (tx: Transaction, to: string | null): Promise<ChartPage> => {
  const accounts = await rowsOf(
    tx,
    {
      code: is.text,
      name: is.text,
      type: is.text,
      currency: is.text,
      debit: is.minor,
      credit: is.minor,
      balance: is.minor,
      baseBalance: is.minor,
      archived: is.yes,
      takesPostings: is.yes,
      takesPayments: is.yes,
      description: is.text,
      bankNumber: is.maybe(is.text),
    },
    sql`
    SELECT a.code, a.name, a.type, ${sumCurrency(sql`a`)} AS currency, a.archived, a.takes_postings AS "takesPostings",
      a.takes_payments AS "takesPayments", a.description,
      a.bank_number AS "bankNumber",
      coalesce(CASE WHEN ${isBound(sql`a`)} THEN t.debit ELSE t.base_debit END, 0)::bigint AS debit,
      coalesce(CASE WHEN ${isBound(sql`a`)} THEN t.credit ELSE t.base_credit END, 0)::bigint AS credit,
      coalesce(CASE WHEN ${isBound(sql`a`)} THEN t.debit - t.credit ELSE t.base_debit - t.base_credit END, 0)::bigint AS balance,
      coalesce(t.base_debit - t.base_credit, 0)::bigint AS "baseBalance"
    FROM account a LEFT JOIN (SELECT account, sum(debit) AS debit, sum(credit) AS credit, sum(base_debit) AS base_debit,
      sum(base_credit) AS base_credit FROM account_total WHERE client_id = current_client() ${to === null ? sql`` : sql`AND day <= ${to}`} GROUP BY 1) t ON t.account = a.code
    WHERE a.client_id = current_client() ORDER BY a.code`,
  )
  const { base, entries } = await oneRow(
    tx,
    { base: is.text, entries: is.whole },
    sql`
    SELECT base, (SELECT coalesce(sum(n.next - c.first_number), 0)::int FROM number_counter n JOIN client c USING (client_id)) AS entries FROM client WHERE client_id = current_client()`,
  )
  return { base, accounts, entries, sum: accounts.reduce((sum, account) => sum + account.baseBalance, 0) }
}

const reversedBy = sql`SELECT r.fiscal_year || '-' || r.number FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year
    AND r.reverses_number = e.number`
const reversalOrder = sql`(SELECT r.fiscal_year::bigint * 1000000000 + r.number FROM entry r WHERE r.client_id = e.client_id
    AND r.reverses_year = e.fiscal_year AND r.reverses_number = e.number)`
const entryTotal = sql`SELECT coalesce(sum(greatest(l.amount, 0)), 0)::bigint FROM entry_line l WHERE l.client_id = e.client_id
    AND l.fiscal_year = e.fiscal_year AND l.number = e.number`
const entryColumns = sql`e.fiscal_year || '-' || e.number AS number, e.date::text, e.document, e.source, e.key, e.currency, e.memo,
  e.posted_at AS "postedAt", e.reverses_year || '-' || e.reverses_number AS reverses, (${reversedBy}) AS "reversedBy", (${entryTotal}) AS total`

interface ListRange extends Arrangement {
  readonly from: string | null
  readonly to: string | null
  readonly offset: number
  readonly limit: number
}

/** The columns of the list of entries, as its page names and writes them. */
const entryListColumns: Readonly<Record<string, ListColumn>> = {
  number: entryColumn(sql`e.fiscal_year`, sql`e.number`),
  date: dateColumn(sql`e.date`),
  document: textColumn(sql`replace(e.document, '_', ' ')`),
  memo: textColumn(sql`e.memo`),
  reverses: entryColumn(sql`e.reverses_year`, sql`e.reverses_number`),
  reversedBy: { ...textColumn(sql`(${reversedBy})`), order: reversalOrder },
  total: amountColumn(sql`(${entryTotal})`, sql`e.currency`),
  posted: textColumn(sql`e.posted_at::text`),
}

/** Entries as they are arranged, else the latest numbers first. */
export const loadEntries = async (tx: Transaction, wanted: ListRange): Promise<EntryList> => {
  const range: SQL[] = [sql`e.client_id = current_client()`]
  if (wanted.from !== null) range.push(sql`e.date >= ${wanted.from}`)
  if (wanted.to !== null) range.push(sql`e.date <= ${wanted.to}`)
  if (isArranged(wanted)) range.push(holdsText(entryListColumns, wanted.filter, await localeOf(tx)))
  const rows = await rowsOf(
    tx,
    {
      number: is.text,
      date: is.date,
      document: is.text,
      source: is.maybe(is.text),
      key: is.maybe(is.text),
      currency: is.text,
      total: is.whole,
      memo: is.text,
      postedAt: is.text,
      reverses: is.maybe(is.text),
      reversedBy: is.maybe(is.text),
    },
    sql`SELECT ${entryColumns} FROM entry e WHERE ${sql.join(range, sql` AND `)}
    ORDER BY ${sortedBy(entryListColumns, wanted.sort)}e.fiscal_year DESC, e.number DESC LIMIT ${wanted.limit + 1} OFFSET ${wanted.offset}`,
  )
  return { rows: rows.slice(0, wanted.limit), more: rows.length > wanted.limit }
}

/** One entry with its lines; null if there is no such number. */
export const loadEntry = async (tx: Transaction, number: string): Promise<EntryPage | null> => {
  const [year, no] = number.split('-').map(Number)
  const [row] = await rowsOf(
    tx,
    {
      number: is.text,
      date: is.date,
      document: is.text,
      source: is.maybe(is.text),
      key: is.maybe(is.text),
      currency: is.text,
      total: is.whole,
      memo: is.text,
      postedAt: is.text,
      reverses: is.maybe(is.text),
      reversedBy: is.maybe(is.text),
      lines: is.list(
        is.record({
          account: is.text,
          accountName: is.text,
          taxCode: is.text,
          segments: is.text,
          amount: is.minor,
          baseAmount: is.minor,
        }),
      ),
      base: is.text,
      by: is.text,
    },
    sql`
    SELECT ${entryColumns}, c.base, u.name AS by,
      (SELECT json_agg(json_build_object('account', l.account, 'accountName', a.name, 'taxCode', l.tax_code, 'segments', l.segments,
        'amount', l.amount, 'baseAmount', l.base_amount) ORDER BY l.line_no)
        FROM entry_line l JOIN account a ON a.client_id = l.client_id AND a.code = l.account
        WHERE l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number) AS lines
    FROM entry e JOIN client c ON c.client_id = e.client_id JOIN act t ON t.client_id = e.client_id AND t.act_id = e.act_id
    JOIN app_user u ON u.user_id = t."by"
    WHERE e.client_id = current_client() AND e.fiscal_year = ${year} AND e.number = ${no}`,
  )
  if (!row) return null
  const { lines, base, by, ...entry } = row
  return {
    entry,
    lines,
    base,
    by,
    document: entry.document,
    date: entry.date,
    currency: entry.currency,
    number: entry.number,
    settlement: entry.source && entry.key ? { source: entry.source, key: entry.key, currency: entry.currency } : null,
  }
}

/** The columns of a register, as its page names and writes them, of a line `l` with its entry `e`; its amounts are in `currency`. */
const registerColumns = (amount: SQL, currency: SQL): Readonly<Record<string, ListColumn>> => ({
  date: dateColumn(sql`l.date`),
  entry: entryColumn(sql`l.fiscal_year`, sql`l.number`),
  document: textColumn(sql`replace(e.document, '_', ' ')`),
  memo: textColumn(sql`e.memo`),
  segments: textColumn(sql`l.segments`),
  tax: textColumn(sql`l.tax_code`),
  debit: amountColumn(sql`greatest(${amount}, 0)`, currency),
  credit: amountColumn(sql`greatest(-${amount}, 0)`, currency),
})

/** The register of an account: its lines between two dates with the running balance, a page of them as they are arranged, else the latest first. */
export const loadRegister = async (
  tx: Transaction,
  account: string,
  wanted: ListRange,
): Promise<RegisterPage | null> => {
  const [found] = await rowsOf(
    tx,
    { code: is.text, name: is.text, type: is.text, currency: is.text, bound: is.yes },
    sql`
    SELECT code, name, type, ${sumCurrency(sql`a`)} AS currency, ${isBound(sql`a`)} AS bound
    FROM account a WHERE client_id = current_client() AND code = ${account}`,
  )
  if (!found) return null
  const { bound, ...facts } = found
  const own = bound ? sql`debit - credit` : sql`base_debit - base_credit`
  const amount = bound ? sql`l.amount` : sql`l.base_amount`
  const from = wanted.from ?? '0001-01-01'
  const to = wanted.to ?? '9999-12-31'
  const sums = await oneRow(
    tx,
    { opening: is.whole, closing: is.whole },
    sql`
    SELECT coalesce(sum(${own}) FILTER (WHERE day < ${from}), 0)::bigint AS opening,
      coalesce(sum(${own}), 0)::bigint AS closing
    FROM account_total WHERE client_id = current_client() AND account = ${account} AND day <= ${to}`,
  )
  const { total } = await oneRow(
    tx,
    { total: is.whole },
    sql`
    SELECT count(*)::int AS total FROM entry_line WHERE client_id = current_client() AND account = ${account} AND date BETWEEN ${from} AND ${to}`,
  )
  const arranged = isArranged(wanted)
  const columns = registerColumns(amount, sql`${facts.currency}::text`)
  const held = arranged ? holdsText(columns, wanted.filter, await localeOf(tx)) : sql`true`
  // The balance runs backwards from the closing one: where nothing is arranged, only the page and the lines later than it are added up.
  const most = arranged ? sql`` : sql`LIMIT ${wanted.offset + wanted.limit + 1}`
  const rows = await rowsOf(
    tx,
    {
      entry: is.text,
      lineNo: is.whole,
      date: is.date,
      document: is.text,
      memo: is.text,
      taxCode: is.text,
      segments: is.text,
      amount: is.minor,
      foreignAmount: is.maybe(is.minor),
      foreignCurrency: is.text,
      balance: is.minor,
    },
    sql`
    SELECT l.fiscal_year || '-' || l.number AS entry, l.line_no AS "lineNo", l.date::text, e.document, e.memo, l.tax_code AS "taxCode",
      l.segments, ${amount} AS amount, CASE WHEN ${!bound} AND e.currency <> ${facts.currency} THEN l.amount END AS "foreignAmount",
      e.currency AS "foreignCurrency", l.balance
    FROM (SELECT l.*, (${sums.closing}::bigint - coalesce(sum(${amount}) OVER (ORDER BY l.date DESC, l.fiscal_year DESC,
        l.number DESC, l.line_no DESC ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING), 0))::bigint AS balance
      FROM (SELECT * FROM entry_line l WHERE l.client_id = current_client() AND l.account = ${account} AND l.date BETWEEN ${from} AND ${to}
        ORDER BY l.date DESC, l.fiscal_year DESC, l.number DESC, l.line_no DESC ${most}) l) l
    JOIN entry e USING (client_id, fiscal_year, number)
    WHERE ${held} ORDER BY ${sortedBy(columns, wanted.sort)}l.date DESC, l.fiscal_year DESC, l.number DESC, l.line_no DESC
    LIMIT ${wanted.limit + 1} OFFSET ${wanted.offset}`,
  )
  return {
    account: facts,
    ...sums,
    total,
    rows: rows.slice(0, wanted.limit),
    more: rows.length > wanted.limit,
    from: wanted.from,
    to: wanted.to,
  }
}
