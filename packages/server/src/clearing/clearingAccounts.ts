import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'

/** A clearing account, and the source and currency whose balance it mirrors. */
export interface ClearingAccount {
  readonly account: string
  readonly name: string
  readonly source: string
  readonly shape: 'combined' | 'channel' | 'gateway'
  readonly currency: string
  readonly payoutsLeaveBalance: 'sent' | 'arrived'
  readonly reservesStayOnBalance: boolean
}

export const clearingAccounts = (tx: Transaction): Promise<ClearingAccount[]> =>
  rowsOf(
    tx,
    sql`
    SELECT c.account, a.name, c.source, s.shape, c.currency,
      coalesce(s.options->>'payoutsLeaveBalance', 'sent') AS "payoutsLeaveBalance",
      coalesce((s.options->>'reservesStayOnBalance')::boolean, false) AS "reservesStayOnBalance"
    FROM source_clearing c JOIN account a ON a.code = c.account AND a.client_id = c.client_id
    JOIN source s ON s.source = c.source AND s.client_id = c.client_id ORDER BY c.account`,
  )

/** What the processor said last, on or before a date: the sum that its balance shows. A channel holds no money, on any day. */
export const reportedAt = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string | null,
): Promise<{ date: string; amount: number } | null> => {
  if (clearing.shape === 'channel') return { date: date ?? (await lastDay(tx, clearing)), amount: 0 }
  const [row] = await rowsOf<{ date: string; amount: number }>(
    tx,
    sql`
    SELECT date::text, available + pending + ${clearing.reservesStayOnBalance ? sql`reserve` : sql`0`} AS amount
    FROM reported_balance WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      ${date === null ? sql`` : sql`AND date <= ${date}`} ORDER BY date DESC LIMIT 1`,
  )
  return row ?? null
}

/** Balance of an account in the books at the end of a date, minor units of its currency, debit positive. */
export const ledgerAt = async (
  tx: Transaction,
  clearing: { account: string; currency: string },
  date: string,
): Promise<number> => {
  const [row] = await rowsOf<{ amount: number | null }>(
    tx,
    sql`
    SELECT sum(debit - credit)::bigint AS amount FROM account_total
    WHERE client_id = current_client() AND account = ${clearing.account} AND currency = ${clearing.currency} AND day <= ${date}`,
  )
  return row?.amount ?? 0
}

/** The last day on which anything moved the account, or will once it is posted. */
export const lastDay = async (tx: Transaction, clearing: ClearingAccount): Promise<string> => {
  const { day } = await oneRow<{ day: string }>(
    tx,
    sql`SELECT coalesce(greatest((SELECT max(day) FROM account_total WHERE client_id = current_client() AND account = ${clearing.account}),
      (SELECT max(last_date) FROM settlement WHERE client_id = current_client() AND source = ${clearing.source})), current_date)::text AS day`,
  )
  return day
}
