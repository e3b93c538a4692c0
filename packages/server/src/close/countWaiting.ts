import { sql } from 'drizzle-orm'
import type { Waiting } from '../course/stages.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { settlementMonths } from '../ledger/settlementMonths.ts'

/** Months that are over and not locked; the note is the first of them. */
export const countWaiting = (tx: Transaction): Promise<Waiting> =>
  oneRow(
    tx,
    { waiting: is.whole, amount: is.minor, note: is.text },
    sql`
    SELECT count(*)::int AS waiting, 0::bigint AS amount, coalesce(min(m), '') AS note FROM (
      SELECT to_char(day, 'YYYY-MM') AS m FROM generate_series(
        (SELECT to_date(min(month), 'YYYY-MM') FROM ${settlementMonths} m),
        (SELECT date_trunc('month', max(entry_date)) - interval '1 day' FROM settlement WHERE client_id = current_client()),
        interval '1 month') day
    ) months WHERE NOT EXISTS (SELECT FROM period p WHERE p.client_id = current_client() AND p.month = m AND p.locked)`,
  )
