import type { ReportedBalance } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Stores what the processor says it holds; a date that is reported again is replaced. Returns how many are new. */
export const importBalances = async (
  tx: Transaction,
  source: string,
  balances: readonly ReportedBalance[],
): Promise<number> => {
  const rows = await rowsOf(
    tx,
    { fresh: is.yes },
    sql`
    INSERT INTO reported_balance AS r (client_id, source, currency, date, available, pending, reserve)
    SELECT DISTINCT ON (b.currency, b.date) current_client(), ${source}, b.currency, b.date, b.available, b.pending, b.reserve
    FROM jsonb_to_recordset(${JSON.stringify(balances)}::jsonb)
      AS b(currency char(3), date date, available bigint, pending bigint, reserve bigint)
    ORDER BY b.currency, b.date
    ON CONFLICT (client_id, source, currency, date) DO UPDATE SET available = excluded.available, pending = excluded.pending,
      reserve = excluded.reserve
    RETURNING xmax = 0 AS fresh`,
  )
  return rows.filter(row => row.fresh).length
}
