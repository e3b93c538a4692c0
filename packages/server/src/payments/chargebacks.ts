import type { DisputeMove } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { lineColumns, type StoredLine, storedLineShape } from '../activity/activityLines.ts'
import { isBooked, revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** A chargeback that is booked, with the settlement that it stands in. */
export interface ChargebackRow extends StoredLine {
  readonly settlement: string
  readonly posted: boolean
  readonly mapVersion: number | null
  readonly entry: string | null
  readonly entryDate: string | null
  readonly decision: 'written_off' | 'credited' | null
  readonly by: string | null
  readonly note: string | null
  /** Lines of the entry that decided it. */
  readonly entryLines: readonly { readonly account: string; readonly amount: number }[] | null
}

/** All chargebacks that are booked. */
export const loadChargebacks = (tx: Transaction): Promise<ChargebackRow[]> =>
  rowsOf(
    tx,
    {
      settlement: is.text,
      posted: is.yes,
      mapVersion: is.maybe(is.whole),
      entry: is.maybe(is.text),
      entryDate: is.maybe(is.date),
      decision: is.maybe(is.oneOf('written_off', 'credited')),
      by: is.maybe(is.text),
      note: is.maybe(is.text),
      entryLines: is.maybe(is.list(is.record({ account: is.text, amount: is.minor }))),
      ...storedLineShape,
    },
    sql`
    SELECT ${lineColumns('now')}, l.settlement_key AS settlement, coalesce(s.state = 'posted', false) AS posted, p.map_version AS "mapVersion",
      (SELECT json_agg(json_build_object('account', el.account, 'amount', el.amount)) FROM entry_line el WHERE el.client_id = d.client_id
        AND el.fiscal_year = d.fiscal_year AND el.number = d.number) AS "entryLines",
      d.fiscal_year || '-' || d.number AS entry, e.date::text AS "entryDate", d.decision, u.name AS by, d.note
    FROM line_as_of l
    LEFT JOIN settlement s ON s.client_id = l.client_id AND s.source = l.source AND s.key = l.settlement_key AND s.currency = l.currency
    LEFT JOIN posting p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key AND p.currency = s.currency
      AND p.generation = s.generation
    LEFT JOIN dispute_decision d ON d.client_id = l.client_id AND d.source = l.source AND d.line_id = l.line_id AND d.undone_by IS NULL
    LEFT JOIN entry e ON e.client_id = d.client_id AND e.fiscal_year = d.fiscal_year AND e.number = d.number
    LEFT JOIN act a ON a.client_id = d.client_id AND a.act_id = d.act_id
    LEFT JOIN app_user u ON u.user_id = a."by"
    WHERE l.client_id = current_client() AND l.kind = 'chargeback' AND l.amount < 0 AND ${isBooked} AND ${revisionAsOf('now')}
    ORDER BY l.occurred_at DESC, l.line_id`,
  )

/** What a gateway did about a dispute. */
export type Move = DisputeMove & { readonly source: string; readonly currency: string }

/** All that gateways gave back of chargebacks. */
export const loadReversals = (tx: Transaction): Promise<Move[]> =>
  rowsOf(
    tx,
    {
      lineId: is.text,
      orderId: is.maybe(is.text),
      relatedId: is.maybe(is.text),
      amount: is.minor,
      source: is.text,
      currency: is.text,
    },
    sql`SELECT l.source, l.currency, l.line_id AS "lineId", l.order_id AS "orderId", l.related_id AS "relatedId", l.amount FROM line_as_of l
      WHERE l.client_id = current_client() AND l.kind = 'chargeback_reversal' AND ${isBooked} AND ${revisionAsOf('now')}
      ORDER BY l.occurred_at, l.line_id`,
  )
