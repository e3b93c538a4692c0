import { sql } from 'drizzle-orm'
import { keyRows, type SettlementKey } from '../activity/settlementKey.ts'
import { isBooked, isMatched, revisionAsOf } from '../activity/storedLines.ts'
import type { Transaction } from '../database/connect.ts'
import { kindIsNot } from '../database/kinds.ts'
import { countMovedTax } from './movedTax.ts'

// The digest is of what the source said; by what its lines count, moment and status are apart from it.
const whatItIs = sql`ARRAY[l.content_hash::text, l.occurred_at::text, l.local_date::text, l.status]`

/**
 * For posted settlements: how many lines were revised, added, or matched with a tender since, and what that comes to; and how
 * many are taxed by other facts now, which comes to nothing on their account. */
export const countCorrections = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<void> => {
  await tx.execute(sql`
    UPDATE settlement s SET corrections = 0, correction_amount = 0 FROM ${keyRows(keys)}
    WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency AND s.corrections > 0`)
  await tx.execute(sql`
    UPDATE settlement s SET corrections = f.count, correction_amount = f.amount
    FROM (
      SELECT source, key, currency, count(*) AS count, sum(amount) AS amount FROM (
      SELECT s.source, s.key, s.currency, l.line_id,
        coalesce(sum(CASE WHEN l.stands AND NOT m.now THEN l.amount ELSE 0 END
          - CASE WHEN ${revisionAsOf(sql`s.as_of`)} AND NOT m."then" THEN l.amount ELSE 0 END), 0) AS amount
      FROM ${keyRows(keys)}
      JOIN settlement_as_of s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency AND s.client_id = current_client() AND s.stands
      JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
        AND l.currency = s.currency AND ${isBooked} AND NOT (s.payouts_only AND ${kindIsNot('payout')})
      CROSS JOIN LATERAL (SELECT ${isMatched('now')} AS now, ${isMatched(sql`s.as_of`)} AS "then") m
      WHERE (l.from_pull > s.as_of OR l.to_pull > s.as_of OR m.now <> m."then") AND coalesce(l.to_pull > s.as_of, true)
      GROUP BY 1, 2, 3, 4
      -- One that is again what it was has nothing to correct.
      HAVING max(${whatItIs}) FILTER (WHERE l.stands) IS DISTINCT FROM max(${whatItIs}) FILTER (WHERE ${revisionAsOf(sql`s.as_of`)})
        OR bool_or(m.now) IS DISTINCT FROM bool_or(m."then")
      ) changed GROUP BY 1, 2, 3
    ) f
    WHERE s.client_id = current_client() AND s.source = f.source AND s.key = f.key AND s.currency = f.currency`)
  await countMovedTax(tx, keys)
}
