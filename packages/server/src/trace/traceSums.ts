import type { Trace, TraceStart, TraceStep } from '@culvert/contract'
import { kinds, placeOfWeek, sumMinor } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { lastDayOf } from '../activity/lastDay.ts'
import { loadWeeks, waysOf } from '../activity/seenRows.ts'
import { soldLines } from '../activity/soldLines.ts'
import { isMatched } from '../activity/storedLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { sumAmount, sumCurrency } from '../ledger/accountMoney.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadRoutes } from '../setup/loadMap.ts'
import { loadSetup } from '../setup/loadSetup.ts'

type StartAt<At extends TraceStart['at']> = Extract<TraceStart, { at: At }>

/** How many of the parts are named; the rest is counted. */
const named = 12

/** An account's movements, all or one side, up to a day: how many entry lines, and the heaviest of them. */
export const sumOfAccount = async (tx: Transaction, start: StartAt<'account'>): Promise<Trace | null> => {
  const amount = sumAmount(sql`a`, sql`l`)
  const side =
    start.side === 'debit' ? sql`AND ${amount} > 0` : start.side === 'credit' ? sql`AND ${amount} < 0` : sql``
  const where = sql`l.client_id = current_client() AND l.account = ${start.account} ${side}
    ${start.to ? sql`AND l.date <= ${start.to}` : sql``} ${start.through ? upTo(start.through) : sql``}`
  const [account] = await rowsOf(
    tx,
    { name: is.text, currency: is.text },
    sql`SELECT name, ${sumCurrency(sql`a`)} AS currency FROM account a WHERE client_id = current_client() AND code = ${start.account}`,
  )
  if (!account) return null
  const total = await oneRow(
    tx,
    { count: is.whole, amount: is.minor },
    sql`SELECT count(*)::int AS count, coalesce(sum(${amount}), 0)::bigint AS amount
      FROM entry_line l JOIN account a ON a.client_id = l.client_id AND a.code = l.account WHERE ${where}`,
  )
  const lines = await rowsOf(
    tx,
    { number: is.text, line: is.whole, date: is.date, memo: is.text, amount: is.minor },
    sql`
    SELECT l.fiscal_year || '-' || l.number AS number, l.line_no AS line, l.date::text, e.memo, l.summed AS amount
    FROM (SELECT l.*, ${amount} AS summed FROM entry_line l JOIN account a ON a.client_id = l.client_id AND a.code = l.account
      WHERE ${where} ORDER BY abs(${amount}) DESC, l.date DESC, l.number LIMIT ${start.named ?? named}) l
    JOIN entry e USING (client_id, fiscal_year, number) ORDER BY abs(l.summed) DESC, l.date DESC, l.number`,
  )
  const query = start.to ? `?to=${start.to}` : ''
  const step: TraceStep = {
    sort: 'entry',
    here: true,
    title: total.count === 1 ? '1 entry line' : `${total.count} entry lines`,
    detail: 'the heaviest first',
    count: total.count,
    amount: total.amount,
    currency: account.currency,
    link: `/books/register/${encodeURIComponent(start.account)}${query}`,
    items: lines.map(line => ({
      title: line.number,
      detail: `${line.date} · ${line.memo}`,
      amount: line.amount,
      link: `entry_line:${line.number}/${line.line}`,
    })),
  }
  const sides = { debit: ', debits', credit: ', credits', all: '' }
  return {
    title: `${start.account} ${account.name}${sides[start.side ?? 'all']}`,
    amount: total.amount,
    currency: account.currency,
    steps: [step],
  }
}

// The register's order: by date, then number, then line.
const upTo = (place: string): SQL => {
  const [year, number, line] = place.split(/[-/]/).map(Number)
  return sql`AND (l.date, l.fiscal_year, l.number, l.line_no) <= (SELECT e.date, e.fiscal_year, e.number, ${line}::int FROM entry e
    WHERE e.client_id = current_client() AND e.fiscal_year = ${year} AND e.number = ${number})`
}

/** A row of the mapping page: how many lines of the last 13 weeks stand in it, and the heaviest of them. */
export const sumOfKind = async (tx: Transaction, start: StartAt<'kind'>): Promise<Trace | null> => {
  const { latest, from, weeks } = await loadWeeks(tx, start.source)
  const ways = waysOf(await loadSetup(tx), await loadRoutes(tx), { source: start.source, date: latest ?? '' })
  const mine = weeks.filter(week => {
    const place = placeOfWeek(week, ways)
    return (
      place.kind === start.kind &&
      (place.category ?? '') === (start.category ?? '') &&
      (place.region ?? '') === (start.region ?? '') &&
      (place.gateway ?? '') === (start.gateway ?? '') &&
      (place.method ?? '') === (start.method ?? '') &&
      place.byItself?.to === start.byItself
    )
  })
  if (mine.length === 0) return null
  const column = (name: 'category' | 'region' | 'gateway' | 'method' | 'matched') =>
    sql.param(mine.map(week => week[name]))
  const lines = await rowsOf(
    tx,
    { id: is.text, date: is.date, amount: is.minor, currency: is.text },
    sql`
    SELECT l.line_id AS id, l.local_date::text AS date, l.amount, l.currency
    FROM line_as_of l
    JOIN (SELECT DISTINCT * FROM unnest(${column('category')}::text[], ${column('region')}::text[], ${column('gateway')}::text[],
      ${column('method')}::text[], ${column('matched')}::boolean[])) AS m(category, region, gateway, method, matched)
      ON coalesce(l.category, '') = m.category AND coalesce(l.region, '') = m.region
      AND (${kindIsNot('tie')} OR coalesce(l.gateway, '') = m.gateway
        AND coalesce(l.method, '') = m.method AND ${isMatched('now')} = m.matched)
    WHERE l.client_id = current_client() AND l.source = ${start.source} AND l.kind = ${start.kind}
      AND l.status <> 'failed' AND l.local_date >= date_trunc('week', ${from}::date)::date
      AND l.stands
    ORDER BY abs(l.amount) DESC, l.line_id LIMIT ${start.named ?? named}`,
  )
  if (lines.length === 0) return null
  const { base, convert } = await loadInBase(tx)
  const count = mine.reduce((sum, week) => sum + week.lines, 0)
  const amount = sumMinor(mine, week => week.amount)
  const label = kinds[start.kind].label
  const step: TraceStep = {
    sort: 'line',
    here: true,
    title: count === 1 ? '1 activity line' : `${count} activity lines`,
    detail: 'of the last 13 weeks, the heaviest first',
    count,
    amount,
    currency: base,
    link: `/settlements?source=${encodeURIComponent(start.source)}`,
    items: lines.map(line => ({
      title: line.id,
      detail: line.date,
      amount: convert(line.amount, line.currency),
      link: `line:${start.source}/${line.id}`,
    })),
  }
  return {
    title: [label, start.category, start.region && `to ${start.region}`].filter(Boolean).join(' · '),
    amount,
    currency: base,
    steps: [step],
  }
}

/** What was sold of a product in the last 13 weeks: how many lines, and the heaviest of them. */
export const sumOfProduct = async (tx: Transaction, start: StartAt<'product'>): Promise<Trace | null> => {
  const rows = await rowsOf(
    tx,
    { id: is.text, date: is.date, amount: is.minor, currency: is.text },
    sql`
    SELECT l.line_id AS id, l.local_date::text AS date, l.amount, l.currency
    FROM ${soldLines(sql`${start.source}::text`, sql`(${lastDayOf(sql`${start.source}::text`)})`)}
      AND coalesce(l.sku, '') = ${start.sku ?? ''} AND coalesce(l.description, '') = ${start.title ?? ''}
    ORDER BY abs(l.amount) DESC, l.line_id`,
  )
  if (rows.length === 0) return null
  const { base, convert } = await loadInBase(tx)
  // Converted as sums of each currency, as they are on the page.
  const sums = new Map<string, number>()
  for (const row of rows) sums.set(row.currency, (sums.get(row.currency) ?? 0) + row.amount)
  const amount = [...sums].reduce((sum, [currency, one]) => sum + convert(one, currency), 0)
  const step: TraceStep = {
    sort: 'line',
    here: true,
    title: rows.length === 1 ? '1 activity line' : `${rows.length} activity lines`,
    detail: 'of the last 13 weeks, the heaviest first',
    count: rows.length,
    amount,
    currency: base,
    link: `/settlements?source=${encodeURIComponent(start.source)}`,
    items: rows.slice(0, start.named ?? named).map(row => ({
      title: row.id,
      detail: row.date,
      amount: convert(row.amount, row.currency),
      link: `line:${start.source}/${row.id}`,
    })),
  }
  const title = [start.sku, start.title].filter(Boolean).join(' · ')
  return { title, amount, currency: base, steps: [step] }
}

/** What a bank account moved by its statements: how many bank lines, and the heaviest of them. */
export const sumOfBank = async (tx: Transaction, start: StartAt<'bank'>): Promise<Trace | null> => {
  const where = sql`client_id = current_client() AND bank_account = ${start.account}`
  const [account] = await rowsOf(
    tx,
    { name: is.text, currency: is.text, count: is.whole, amount: is.minor },
    sql`SELECT name, currency, b.count, b.amount FROM account a
      CROSS JOIN (SELECT count(*)::int AS count, coalesce(sum(amount), 0)::bigint AS amount FROM bank_line WHERE ${where}) b
      WHERE a.client_id = current_client() AND a.code = ${start.account}`,
  )
  if (!account || account.count === 0) return null
  const lines = await rowsOf(
    tx,
    { date: is.date, description: is.text, amount: is.minor },
    sql`SELECT date::text, coalesce(nullif(description, ''), line_id) AS description, amount FROM bank_line WHERE ${where}
      ORDER BY abs(amount) DESC, date DESC, line_id LIMIT ${start.named ?? named}`,
  )
  const { count, amount, currency } = account
  const page = `/bank/${encodeURIComponent(start.account)}`
  const step: TraceStep = {
    ...{ sort: 'bank_line', here: true, count, amount, currency },
    title: count === 1 ? '1 bank line' : `${count} bank lines`,
    detail: 'the heaviest first',
    link: page,
    items: lines.map(line => ({
      title: line.description,
      detail: line.date,
      amount: line.amount,
      link: `${page}?around=${line.date}`,
    })),
  }
  return { title: `${start.account} ${account.name}, statements`, amount, currency, steps: [step] }
}

/** One side of the trial balance up to a day, in base: how many accounts stand on it, and the heaviest of them. */
export const sumOfChart = async (tx: Transaction, start: StartAt<'chart'>): Promise<Trace> => {
  const { base, accounts } = await loadBalances(tx, start.to ?? null)
  const sign = start.side === 'debit' ? 1 : -1
  const mine = accounts
    .filter(account => account.balance * sign > 0)
    .sort((left, right) => Math.abs(right.balance) - Math.abs(left.balance))
  const amount = sumMinor(mine, account => account.balance * sign)
  const query = start.to ? `?to=${start.to}` : ''
  const step: TraceStep = {
    ...{ sort: 'balance', here: true, count: mine.length, amount, currency: base },
    title: mine.length === 1 ? '1 account' : `${mine.length} accounts`,
    detail: 'the heaviest first',
    link: `/books${query}`,
    items: mine.slice(0, start.named ?? named).map(account => ({
      title: account.code,
      detail: account.name,
      amount: account.balance * sign,
      link: `/books/register/${encodeURIComponent(account.code)}${query}`,
    })),
  }
  return { title: `Balances, ${start.side}`, amount, currency: base, steps: [step] }
}

const loadBalances = async (tx: Transaction, to: string | null) => {
  const { base } = await loadInBase(tx)
  const accounts = await rowsOf(
    tx,
    { code: is.text, name: is.text, balance: is.minor },
    sql`SELECT a.code, a.name, sum(t.base_debit - t.base_credit)::bigint AS balance
      FROM account_total t JOIN account a ON a.client_id = t.client_id AND a.code = t.account
      WHERE t.client_id = current_client() ${to === null ? sql`` : sql`AND t.day <= ${to}`} GROUP BY 1, 2`,
  )
  return { base, accounts }
}
