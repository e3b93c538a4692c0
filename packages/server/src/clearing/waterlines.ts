import { sql } from 'drizzle-orm'
import { type ClearingAccount, namesOf } from '../activity/clearingAccounts.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { BalanceAccount } from './balanceAccounts.ts'

/** Days of the books shown before the proof's date. */
const waterlineDays = 120

/** The balance of the books, day by day, of the days before a date. */
export const booksLine = (tx: Transaction, of: { account: string; currency: string }, date: string) =>
  rowsOf(
    tx,
    { date: is.date, balance: is.minor },
    sql`
    SELECT day::text AS date, balance::bigint FROM (
      SELECT day, sum(sum(debit - credit)) OVER (ORDER BY day) AS balance FROM account_total
      WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency} AND day <= ${date}
      GROUP BY day) b
    WHERE day >= ${date}::date - ${waterlineDays}::int ORDER BY day`,
  )

// Only days on which all have spoken: a sum of some of them would look like a drop.
export const reportedLine = (tx: Transaction, clearing: ClearingAccount, date: string) => {
  const processors = clearing.sources.filter(one => one.shape !== 'channel')
  const withReserve = processors.filter(one => one.reservesStayOnBalance)
  return rowsOf(
    tx,
    { date: is.date, balance: is.minor },
    sql`
    SELECT date::text, sum(available + pending + CASE WHEN source = ANY(${namesOf(withReserve)}::text[]) THEN reserve ELSE 0 END)::bigint AS balance
    FROM reported_balance WHERE client_id = current_client() AND source = ANY(${namesOf(processors)}::text[]) AND currency = ${clearing.currency}
      AND date <= ${date} AND date >= ${date}::date - ${waterlineDays}::int
    GROUP BY date HAVING count(*) = ${processors.length} ORDER BY date`,
  )
}

/** The balances that somebody stated of an account. */
export const statedLine = (tx: Transaction, of: BalanceAccount, date: string) =>
  rowsOf(
    tx,
    { date: is.date, balance: is.minor },
    sql`
    SELECT date::text, max(amount)::bigint AS balance FROM (
      SELECT date, amount FROM stated_balance WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency}
      UNION ALL
      SELECT b.date, sum(b.reserve) FROM reported_balance b WHERE b.client_id = current_client() AND b.currency = ${of.currency}
        AND EXISTS (SELECT FROM route o WHERE o.client_id = b.client_id AND o.kind = 'reserve_kept' AND o.account = ${of.account}
          AND coalesce(o.source, b.source) = b.source)
      GROUP BY 1) said
    WHERE date <= ${date} AND date >= ${date}::date - ${waterlineDays}::int GROUP BY 1 ORDER BY 1`,
  )
