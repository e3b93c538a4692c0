import type { MonthState } from '@culvert/contract'
import { lastDayOfMonth } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { settlementMonths } from '../ledger/settlementMonths.ts'

/** What other stages say of a month. */
export interface MonthChecks {
  /** Clearing accounts that are not closed at a date, or have no proof then. */
  unproved(tx: Transaction, date: string): Promise<MonthState['unproved']>
  /** Tax codes and places whose tax is not what their lines call for. */
  taxOff(tx: Transaction, month: string): Promise<string[]>
}

/** What is still open in a month, before it is locked. */
export const loadMonthState = async (tx: Transaction, month: string, checks: MonthChecks): Promise<MonthState> => {
  const end = lastDayOfMonth(month)
  const counts = await oneRow(
    tx,
    {
      corrections: is.whole,
      reason: is.text,
      blocked: is.whole,
      proposed: is.whole,
      locked: is.yes,
      unpairedPayouts: is.whole,
      openBankLines: is.whole,
    },
    sql`
    SELECT (count(*) FILTER (WHERE state = 'blocked' OR touched)
        + (SELECT count(*) FROM settlement WHERE client_id = current_client() AND touched AND entry_date IS NULL))::int AS blocked, count(*) FILTER (WHERE state = 'proposed')::int AS proposed,
      count(*) FILTER (WHERE state = 'posted' AND corrections > 0)::int AS corrections,
      (SELECT count(*)::int FROM transfer WHERE client_id = current_client() AND NOT paired AND NOT reversed AND date BETWEEN ${`${month}-01`} AND ${end})
        AS "unpairedPayouts",
      (SELECT count(*)::int FROM open_bank_line WHERE client_id = current_client() AND date BETWEEN ${`${month}-01`} AND ${end}) AS "openBankLines",
      coalesce((SELECT locked FROM period WHERE client_id = current_client() AND month = ${month}), false) AS locked,
      coalesce((SELECT reason FROM period WHERE client_id = current_client() AND month = ${month}), '') AS reason
    FROM ${settlementMonths} m WHERE month = ${month}`,
  )
  const unproved = await checks.unproved(tx, end)
  const taxOff = await checks.taxOff(tx, month)
  const waiting =
    counts.blocked +
    counts.proposed +
    counts.corrections +
    counts.unpairedPayouts +
    counts.openBankLines +
    unproved.length +
    taxOff.length
  return {
    month,
    ...counts,
    unproved,
    taxOff,
    open: waiting > 0,
    before: await outOfOrder(tx, { month, locked: !counts.locked }),
  }
}

/** The month that comes before in the order of locking: an earlier one still open, or, to open one again, a later one that is locked. */
export const outOfOrder = async (
  tx: Transaction,
  change: { readonly month: string; readonly locked: boolean },
): Promise<string | null> => {
  const [row] = await rowsOf(
    tx,
    { month: is.text },
    change.locked
      ? sql`
        SELECT to_char(day, 'YYYY-MM') AS month FROM generate_series(
          (SELECT date_trunc('month', least((SELECT to_date(min(month), 'YYYY-MM') FROM ${settlementMonths} m WHERE state <> 'set_aside'),
            (SELECT min(date) FROM entry WHERE client_id = current_client())))),
          ${`${change.month}-01`}::date - 1, interval '1 month') day
        WHERE NOT EXISTS (SELECT FROM period p WHERE p.client_id = current_client() AND p.month = to_char(day, 'YYYY-MM') AND p.locked)
        ORDER BY 1 LIMIT 1`
      : sql`SELECT month FROM period WHERE client_id = current_client() AND locked AND month > ${change.month} ORDER BY month DESC LIMIT 1`,
  )
  return row?.month ?? null
}
