import type { MonthState } from '@culvert/contract'
import { lastDayOfMonth } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { clearingAccounts } from '../clearing/clearingAccounts.ts'
import { loadProof } from '../clearing/loadProof.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { loadTaxCheck } from '../mapping/loadTaxCheck.ts'
import { settlementMonths } from './settlementMonths.ts'

/** What is still open in a month, before it is locked. */
export const loadMonthState = async (tx: Transaction, month: string): Promise<MonthState> => {
  const end = lastDayOfMonth(month)
  const counts = await oneRow<
    Pick<MonthState, 'blocked' | 'proposed' | 'corrections' | 'unpairedPayouts' | 'openBankLines' | 'locked' | 'reason'>
  >(
    tx,
    sql`
    SELECT count(*) FILTER (WHERE state = 'blocked')::int AS blocked, count(*) FILTER (WHERE state = 'proposed')::int AS proposed,
      count(*) FILTER (WHERE state = 'posted' AND corrections > 0)::int AS corrections,
      (SELECT count(*)::int FROM transfer WHERE client_id = current_client() AND NOT paired AND NOT reversed AND date BETWEEN ${`${month}-01`} AND ${end})
        AS "unpairedPayouts",
      (SELECT count(*)::int FROM open_bank_line WHERE client_id = current_client() AND date BETWEEN ${`${month}-01`} AND ${end}) AS "openBankLines",
      coalesce((SELECT locked FROM period WHERE client_id = current_client() AND month = ${month}), false) AS locked,
      coalesce((SELECT reason FROM period WHERE client_id = current_client() AND month = ${month}), '') AS reason
    FROM ${settlementMonths} m WHERE month = ${month}`,
  )
  const unproved: MonthState['unproved'] = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = await loadProof(tx, clearing, end)
    if (proof?.outcome !== 'closed')
      unproved.push({ account: clearing.account, name: clearing.name, outcome: proof?.outcome ?? null })
  }
  const { codes, places } = await loadTaxCheck(tx, month)
  const taxOff = [
    ...new Set([
      ...codes.filter(code => Math.abs(code.difference) > code.roundings).map(code => code.taxCode),
      ...(places ?? [])
        .filter(place => place.difference !== 0 || place.open !== 0 || place.foreign !== 0)
        .map(place => [place.region ?? 'no region', place.class].filter(Boolean).join(' ')),
    ]),
  ]
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
  const [row] = await rowsOf<{ month: string }>(
    tx,
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
