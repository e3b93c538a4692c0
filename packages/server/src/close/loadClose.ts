import type { CloseMonth } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { settlementMonths } from '../ledger/settlementMonths.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadMonthState, type MonthChecks, outOfOrder } from './loadMonthState.ts'

/** Each month with activity, the latest first, with what still keeps it from being closed. */
export const loadMonths = async (tx: Transaction): Promise<CloseMonth[]> => {
  const rows = await rowsOf(
    tx,
    {
      corrections: is.whole,
      month: is.text,
      blocked: is.whole,
      proposed: is.whole,
      locked: is.yes,
      unpaired: is.whole,
    },
    sql`
    WITH months AS (
      SELECT to_char(day, 'YYYY-MM') AS month FROM generate_series(
        (SELECT to_date(min(month), 'YYYY-MM') FROM ${settlementMonths} m),
        (SELECT max(entry_date) FROM settlement WHERE client_id = current_client()), interval '1 month') day
      UNION SELECT month FROM period WHERE client_id = current_client() AND locked
    ), waiting AS (
      SELECT month, count(*) FILTER (WHERE state = 'blocked') AS blocked,
        count(*) FILTER (WHERE state = 'proposed') AS proposed, count(*) FILTER (WHERE corrections > 0) AS corrections
      FROM ${settlementMonths} m GROUP BY 1
    ), unpaired AS (
      SELECT to_char(date, 'YYYY-MM') AS month, count(*) AS count FROM transfer
      WHERE client_id = current_client() AND NOT paired AND NOT reversed GROUP BY 1
    )
    SELECT m.month, coalesce((SELECT locked FROM period p WHERE p.client_id = current_client() AND p.month = m.month), false) AS locked,
      coalesce(w.blocked, 0)::int AS blocked, coalesce(w.proposed, 0)::int AS proposed, coalesce(u.count, 0)::int AS unpaired,
      coalesce(w.corrections, 0)::int AS corrections
    FROM months m LEFT JOIN waiting w ON w.month = m.month LEFT JOIN unpaired u ON u.month = m.month ORDER BY m.month DESC`,
  )
  const waiting = await waitingByMonth(tx)
  return rows.map(row => ({
    ...row,
    waitingAmount: waiting.get(row.month) ?? 0,
    ready: row.blocked + row.proposed + row.unpaired + row.corrections === 0,
  }))
}

/** Gross of what is not posted, by the month of its entry: minor units of base. */
const waitingByMonth = async (tx: Transaction): Promise<Map<string, number>> => {
  const { convert } = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { month: is.text, currency: is.text, amount: is.minor },
    sql`
    SELECT to_char(entry_date, 'YYYY-MM') AS month, currency, sum(abs(gross))::bigint AS amount FROM settlement
    WHERE client_id = current_client() AND state IN ('blocked', 'proposed') AND entry_date IS NOT NULL GROUP BY 1, 2`,
  )
  const sums = new Map<string, number>()
  for (const { month, currency, amount } of rows) sums.set(month, (sums.get(month) ?? 0) + convert(amount, currency))
  return sums
}

/** Locks or opens a month; `held` looks once more when nobody can post into it. Waits for whoever is posting into it; nothing is posted into a locked month. @throws Refused */
export const setLocked = async (
  database: Database,
  actor: Actor,
  { reason = '', ...asked }: { month: string; locked: boolean; reason?: string },
  checks: MonthChecks & { readonly held?: (tx: Transaction) => Promise<void> },
): Promise<void> => {
  const change = { ...asked, reason }
  // The proofs of a month's end are looked at before anything is held.
  const state = await asClient(database, actor, tx => loadMonthState(tx, change.month, checks))
  if (change.locked && !state.locked && state.open && change.reason === '')
    throw new Refused('month_open', { month: change.month })
  await retrying(() =>
    asClient(database, actor, async tx => {
      await tx.execute(
        sql`INSERT INTO period (client_id, month) VALUES (current_client(), ${change.month}) ON CONFLICT DO NOTHING`,
      )
      // All that are there, in their order: two who lock neighbours at once see each other.
      await tx.execute(
        sql`SELECT FROM period WHERE client_id = current_client() AND (month = ${change.month} OR locked) ORDER BY month FOR UPDATE`,
      )
      await checks.held?.(tx)
      const out = await outOfOrder(tx, change)
      if (out !== null) throw new Refused(change.locked ? 'earlier_open' : 'later_locked', { month: out })
      const [moved] = await rowsOf(
        tx,
        {},
        sql`UPDATE period SET locked = ${change.locked}, reason = ${change.locked ? change.reason : ''}
          WHERE client_id = current_client() AND month = ${change.month} AND locked <> ${change.locked} RETURNING month`,
      )
      if (!moved) return
      await recordAct(tx, actor, {
        sort: change.locked ? 'lock_period' : 'unlock_period',
        note: [change.month, change.reason].filter(Boolean).join(': '),
        touched: [
          {
            subject: 'month',
            key: change.month,
            before: { locked: !change.locked },
            after: { locked: change.locked, ...(change.reason ? { reason: change.reason } : {}) },
          },
        ],
      })
      await markStages(tx, ['close'])
    }),
  )
}
