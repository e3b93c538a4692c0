import type { ProofPage } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { type ClearingAccount, countsInOrders, namesOf } from '../activity/clearingAccounts.ts'
import { documentOf } from '../activity/elsewhereLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Orders shown of those that a channel's account leaves open. */
const mostOrders = 200

/** Orders of an account's channels on which something is open at a date: sales not tendered for, tenders without a sale. */
export const loadOpenOrders = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string,
): Promise<ProofPage['openOrders']> => {
  const channels = clearing.sources.filter(one => one.shape === 'channel')
  if (channels.length === 0) return { total: 0, orders: [] }
  const rows = await rowsOf(
    tx,
    { source: is.text, order: is.maybe(is.text), line: is.text, date: is.date, amount: is.minor, total: is.whole },
    // Open at the date is what is open now, or has lines after it.
    sql`
    WITH candidate AS MATERIALIZED (
      SELECT o.source, o.order_id, o.line_id FROM open_order o
      WHERE o.client_id = current_client() AND o.source = ANY(${namesOf(channels)}::text[]) AND o.currency = ${clearing.currency}
      UNION
      SELECT l.source, coalesce(l.order_id, ''), CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ANY(${namesOf(channels)}::text[]) AND l.currency = ${clearing.currency}
        AND l.local_date > ${date}
    ), found AS (
      SELECT l.* FROM candidate c JOIN line_as_of l ON l.order_id = c.order_id AND l.source = c.source
        WHERE c.order_id <> '' AND l.client_id = current_client()
      UNION ALL SELECT l.* FROM candidate c JOIN line_as_of l ON l.source = c.source AND l.line_id = c.line_id
        WHERE c.line_id <> '' AND l.client_id = current_client() AND l.order_id IS NULL
    )
    SELECT l.source, l.order_id AS "order", min(l.line_id) AS line, min(l.local_date)::text AS date, sum(l.amount)::bigint AS amount,
      count(*) OVER ()::int AS total
    FROM found l
    WHERE l.currency = ${clearing.currency} AND l.local_date <= ${date} AND ${countsInOrders(channels)}
    GROUP BY l.source, l.order_id, CASE WHEN l.order_id IS NULL THEN l.line_id END HAVING sum(l.amount) <> 0
    ORDER BY abs(sum(l.amount)) DESC, 3 LIMIT ${mostOrders}`,
  )
  return {
    total: rows[0]?.total ?? 0,
    orders: rows.map(row => ({
      date: row.date,
      amount: row.amount,
      ...documentOf({ source: row.source, lineId: row.line, orderId: row.order }),
    })),
  }
}
