import type { CloseMonth } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { recordAct } from '../books/recordAct.ts'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'

/** Each month with activity, the latest first, with what still keeps it from being closed. */
export const loadMonths = async (tx: Transaction): Promise<CloseMonth[]> => {
  const rows = await rowsOf<Omit<CloseMonth, 'ready'>>(
    tx,
    sql`
    WITH months AS (
      SELECT to_char(day, 'YYYY-MM') AS month FROM generate_series(
        (SELECT date_trunc('month', min(entry_date)) FROM settlement WHERE client_id = current_client()),
        (SELECT max(entry_date) FROM settlement WHERE client_id = current_client()), interval '1 month') day
      UNION SELECT month FROM period WHERE client_id = current_client() AND locked
    ), waiting AS (
      SELECT to_char(entry_date, 'YYYY-MM') AS month, count(*) FILTER (WHERE state = 'blocked') AS blocked,
        count(*) FILTER (WHERE state = 'proposed') AS proposed, count(*) FILTER (WHERE corrections > 0) AS corrections,
        sum(abs(gross)) FILTER (WHERE state IN ('blocked', 'proposed')) AS amount
      FROM settlement WHERE client_id = current_client() GROUP BY 1
    ), unpaired AS (
      SELECT to_char(date, 'YYYY-MM') AS month, count(*) AS count FROM transfer
      WHERE client_id = current_client() AND NOT paired AND NOT reversed GROUP BY 1
    )
    SELECT m.month, coalesce((SELECT locked FROM period p WHERE p.client_id = current_client() AND p.month = m.month), false) AS locked,
      coalesce(w.blocked, 0)::int AS blocked, coalesce(w.proposed, 0)::int AS proposed, coalesce(u.count, 0)::int AS unpaired,
      coalesce(w.corrections, 0)::int AS corrections, coalesce(w.amount, 0)::bigint AS "waitingAmount"
    FROM months m LEFT JOIN waiting w ON w.month = m.month LEFT JOIN unpaired u ON u.month = m.month ORDER BY m.month DESC`,
  )
  return rows.map(row => ({ ...row, ready: row.blocked + row.proposed + row.unpaired + row.corrections === 0 }))
}

/** Locks or opens a month. Waits for whoever is posting into it; nothing is posted into a locked month. */
export const setLocked = (
  database: Database,
  actor: Actor,
  change: { month: string; locked: boolean },
): Promise<void> =>
  asClient(database, actor, async tx => {
    await tx.execute(
      sql`INSERT INTO period (client_id, month) VALUES (current_client(), ${change.month}) ON CONFLICT DO NOTHING`,
    )
    await tx.execute(sql`SELECT FROM period WHERE client_id = current_client() AND month = ${change.month} FOR UPDATE`)
    await tx.execute(
      sql`UPDATE period SET locked = ${change.locked} WHERE client_id = current_client() AND month = ${change.month}`,
    )
    await recordAct(tx, actor, { sort: change.locked ? 'lock_period' : 'unlock_period', note: change.month })
    await refreshSummary(tx, ['close'])
  })
