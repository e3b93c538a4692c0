import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { countToPair, type WaitingIn } from '../bank/countToPair.ts'
import { type InBase, loadInBase } from '../books/inBase.ts'
import { unclosedNow } from '../clearing/loadProof.ts'
import { settlementMonths } from '../close/settlementMonths.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { loadDisputes } from '../payments/disputes.ts'
import { findOneSided } from '../payments/loadTieOut.ts'
import { loadSetup } from '../settlements/loadSetup.ts'

export const stages = ['sources', 'mapping', 'settlements', 'payments', 'clearing', 'bank', 'books', 'close'] as const
export type Stage = (typeof stages)[number]

interface Waiting {
  readonly waiting: number
  /** Minor units of the client's base currency. */
  readonly amount: number
  readonly note: string
}

/** Adds up what waits in each currency. */
const together = (rows: readonly WaitingIn[], inBase: InBase): Waiting => ({
  waiting: rows.reduce((sum, row) => sum + row.waiting, 0),
  amount: sumMinor(rows, row => inBase.convert(row.amount, row.currency)),
  note: String(rows.reduce((sum, row) => sum + row.note, 0)),
})

const counters: Record<Stage, (tx: Transaction, inBase: InBase) => Promise<Waiting>> = {
  sources: tx =>
    oneRow(
      tx,
      sql`
    SELECT count(*) FILTER (WHERE failed)::int AS waiting, 0::bigint AS amount, count(*)::text AS note
    FROM (SELECT (SELECT p.state FROM pull p WHERE p.client_id = s.client_id AND p.source = s.source
      ORDER BY p.started_at DESC LIMIT 1) = 'failed' AS failed FROM source s WHERE s.client_id = current_client()) x`,
    ),
  mapping: async (tx, inBase) => {
    const rows = await rowsOf<{ kind: string; category: string | null; currency: string; amount: number }>(
      tx,
      sql`
    SELECT c->>'kind' AS kind, c->>'category' AS category, s.currency, sum(abs((c->>'amount')::bigint))::bigint AS amount
    FROM settlement s, jsonb_array_elements(s.blocks) b, jsonb_array_elements(b->'concerned') c
    WHERE s.client_id = current_client() AND s.state = 'blocked' AND b->>'reason' IN ('unmapped', 'tax_code_missing')
      -- A collection that a shop's order should explain waits for the shop's report, not for a route.
      AND NOT (c->>'kind' IN ('collected', 'collected_back') AND EXISTS (SELECT FROM tender_label t
        LEFT JOIN gateway_label g ON g.client_id = t.client_id AND g.label = t.label
        WHERE t.client_id = s.client_id AND t.channel <> s.source AND coalesce(g.source, t.label) = s.source))
    GROUP BY 1, 2, 3`,
    )
    const kinds = new Set(rows.map(row => JSON.stringify([row.kind, row.category])))
    return { waiting: kinds.size, amount: sumMinor(rows, row => inBase.convert(row.amount, row.currency)), note: '' }
  },
  settlements: async (tx, inBase) =>
    together(
      await rowsOf<WaitingIn>(
        tx,
        sql`
    SELECT currency, count(*)::int AS waiting, coalesce(sum(abs(gross)), 0)::bigint AS amount,
      count(*) FILTER (WHERE state = 'blocked')::int AS note
    FROM settlement WHERE client_id = current_client() AND state IN ('blocked', 'proposed') GROUP BY 1`,
      ),
      inBase,
    ),
  payments: async (tx, inBase) => {
    const items = await findOneSided(tx, await loadSetup(tx))
    const disputed = (await loadDisputes(tx)).filter(({ row }) => row.state === 'open' || row.state === 'changed')
    return {
      waiting: items.length + disputed.length,
      amount:
        sumMinor(items, item => inBase.convert(Math.abs(item.amount), item.line.currency)) +
        sumMinor(disputed, ({ row }) => inBase.convert(Math.abs(row.left), row.currency)),
      note: '',
    }
  },
  // Accounts that are open, with what is unexplained; where none is, those that are explained, with what is to be mended.
  clearing: async (tx, inBase) => {
    const unclosed = await unclosedNow(tx)
    const open = unclosed.filter(one => one.outcome === 'open')
    return {
      waiting: unclosed.length,
      amount:
        open.length > 0
          ? sumMinor(open, one => inBase.convert(Math.abs(one.unexplained), one.currency))
          : sumMinor(unclosed, one => inBase.convert(one.toMend, one.currency)),
      note: String(open.length),
    }
  },
  bank: async (tx, inBase) => together(await countToPair(tx), inBase),
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
        (SELECT to_date(min(month), 'YYYY-MM') FROM ${settlementMonths} m),
        (SELECT date_trunc('month', max(entry_date)) - interval '1 day' FROM settlement WHERE client_id = current_client()),
        interval '1 month') day
    ) months WHERE NOT EXISTS (SELECT FROM period p WHERE p.client_id = current_client() AND p.month = m AND p.locked)`,
    ),
}

/** Stages that are counted anew when they are read: proofs, pairings and what is on one side only are too much while others wait for the transaction. */
const countedLate: readonly Stage[] = ['payments', 'clearing', 'bank']

/** Counts what waits at the stages anew, in the transaction that changed it; a proof only once it is asked for. Always its last lock. */
export const refreshSummary = async (tx: Transaction, changed: readonly Stage[]): Promise<void> => {
  await recount(
    tx,
    changed.filter(stage => !countedLate.includes(stage)),
    changed.filter(stage => countedLate.includes(stage)),
  )
}

/** Counts what is out of date, held meanwhile: who changes something then marks it again afterwards. */
export const countStale = async (tx: Transaction): Promise<void> => {
  const stale = await rowsOf<{ stage: Stage }>(
    tx,
    sql`SELECT stage FROM client_summary WHERE client_id = current_client() AND stale ORDER BY stage FOR UPDATE`,
  )
  if (stale.length > 0)
    await recount(
      tx,
      stale.map(row => row.stage),
      [],
    )
}

const recount = async (tx: Transaction, changed: readonly Stage[], late: readonly Stage[]): Promise<void> => {
  // Held before counting, so that what another transaction has changed meanwhile is counted, not written over.
  await tx.execute(sql`SELECT FROM client_summary WHERE client_id = current_client()
    AND stage = ANY(${sql.param([...changed, ...late])}::text[]) ORDER BY stage FOR UPDATE`)
  for (const stage of late)
    await tx.execute(sql`INSERT INTO client_summary (client_id, stage, stale) VALUES (current_client(), ${stage}, true)
      ON CONFLICT (client_id, stage) DO UPDATE SET stale = true`)
  if (changed.length === 0) return
  const inBase = await loadInBase(tx)
  const rows = []
  for (const stage of stages) if (changed.includes(stage)) rows.push({ stage, ...(await counters[stage](tx, inBase)) })
  await tx.execute(sql`
    INSERT INTO client_summary (client_id, stage, waiting, amount, note)
    SELECT current_client(), r.stage, r.waiting, r.amount, r.note
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS r(stage text, waiting int, amount bigint, note text)
    ORDER BY r.stage
    ON CONFLICT (client_id, stage) DO UPDATE SET waiting = excluded.waiting, amount = excluded.amount,
      note = excluded.note, stale = false, at = now()`)
}
