import { sql } from 'drizzle-orm'
import { unexplainedNow } from '../clearing/loadProof.ts'
import { oneRow, type Transaction } from '../database/connect.ts'

export const stages = ['sources', 'mapping', 'settlements', 'payments', 'clearing', 'bank', 'books', 'close'] as const
export type Stage = (typeof stages)[number]

interface Waiting {
  readonly waiting: number
  /** Minor units of the client's base currency. */
  readonly amount: number
  readonly note: string
}

const counters: Record<Stage, (tx: Transaction) => Promise<Waiting>> = {
  sources: tx =>
    oneRow(
      tx,
      sql`
    SELECT count(*) FILTER (WHERE failed)::int AS waiting, 0::bigint AS amount, count(*)::text AS note
    FROM (SELECT (SELECT p.state FROM pull p WHERE p.client_id = s.client_id AND p.source = s.source
      ORDER BY p.started_at DESC LIMIT 1) = 'failed' AS failed FROM source s WHERE s.client_id = current_client()) x`,
    ),
  mapping: tx =>
    oneRow(
      tx,
      sql`
    SELECT count(DISTINCT (c->>'kind', c->>'category'))::int AS waiting,
      coalesce(sum(abs((c->>'amount')::bigint)), 0)::bigint AS amount, '' AS note
    FROM settlement s, jsonb_array_elements(s.blocks) b, jsonb_array_elements(b->'concerned') c
    WHERE s.client_id = current_client() AND s.state = 'blocked' AND b->>'reason' IN ('unmapped', 'tax_code_missing')`,
    ),
  settlements: tx =>
    oneRow(
      tx,
      sql`
    SELECT count(*)::int AS waiting, coalesce(sum(abs(gross)), 0)::bigint AS amount,
      count(*) FILTER (WHERE state = 'blocked')::text AS note
    FROM settlement WHERE client_id = current_client() AND state IN ('blocked', 'proposed')`,
    ),
  payments: async () => ({ waiting: 0, amount: 0, note: '' }),
  clearing: async tx => {
    const { accounts, amount } = await unexplainedNow(tx)
    return { waiting: accounts, amount, note: '' }
  },
  bank: tx =>
    oneRow(
      tx,
      sql`
    SELECT (t.count + b.count)::int AS waiting, (t.amount + b.amount)::bigint AS amount, b.count::text AS note
    FROM (SELECT count(*) AS count, coalesce(sum(abs(amount)), 0) AS amount FROM transfer
        WHERE client_id = current_client() AND NOT paired AND NOT reversed) t,
      (SELECT count(*) AS count, coalesce(sum(abs(amount)), 0) AS amount FROM open_bank_line
        WHERE client_id = current_client()) b`,
    ),
  books: tx =>
    oneRow(
      tx,
      sql`
    SELECT 0 AS waiting, 0::bigint AS amount, coalesce(sum(next - 1), 0)::text AS note FROM number_counter
    WHERE client_id = current_client()`,
    ),
  close: tx =>
    oneRow(
      tx,
      sql`
    SELECT count(*)::int AS waiting, 0::bigint AS amount, coalesce(min(m), '') AS note FROM (
      SELECT to_char(day, 'YYYY-MM') AS m FROM generate_series(
        (SELECT date_trunc('month', min(first_date)) FROM settlement WHERE client_id = current_client()),
        (SELECT date_trunc('month', max(last_date)) - interval '1 day' FROM settlement WHERE client_id = current_client()),
        interval '1 month') day
    ) months WHERE NOT EXISTS (SELECT FROM period p WHERE p.client_id = current_client() AND p.month = m AND p.locked)`,
    ),
}

/** Counts what waits at the stages anew, in the transaction that changed it. */
export const refreshSummary = async (tx: Transaction, changed: readonly Stage[]): Promise<void> => {
  // Held before counting, so that what another transaction has changed meanwhile is counted, not written over.
  await tx.execute(sql`SELECT FROM client_summary WHERE client_id = current_client()
    AND stage = ANY(${sql.param([...changed])}::text[]) ORDER BY stage FOR UPDATE`)
  const rows = []
  for (const stage of stages) if (changed.includes(stage)) rows.push({ stage, ...(await counters[stage](tx)) })
  await tx.execute(sql`
    INSERT INTO client_summary (client_id, stage, waiting, amount, note)
    SELECT current_client(), r.stage, r.waiting, r.amount, r.note
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS r(stage text, waiting int, amount bigint, note text)
    ORDER BY r.stage
    ON CONFLICT (client_id, stage) DO UPDATE SET waiting = excluded.waiting, amount = excluded.amount,
      note = excluded.note, at = now()`)
}
