import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { keyRows, type SettlementKey } from '../settlements/settlementKey.ts'
import { partRows } from './partRows.ts'
import { stagedColumns, stagedFrom } from './stageActivity.ts'

export interface Merged {
  readonly pullNo: number
  readonly added: number
  readonly revised: number
  readonly same: number
  /** Settlements and days that got new or changed lines. */
  readonly touched: readonly SettlementKey[]
}

/**
 * Moves staged lines of `source` into the activity: new ones as revision 1, changed ones as the next revision, the rest
 * not at all. Holds the source's row, so that two pulls of one source come one after the other.
 */
export const mergeActivity = async (tx: Transaction, source: string): Promise<Merged> => {
  const { last } = await oneRow<{ last: number }>(
    tx,
    sql`
    SELECT last_pull AS last FROM source WHERE client_id = current_client() AND source = ${source} FOR UPDATE`,
  )
  const pullNo = last + 1
  // A source's first lines meet no others: nothing is looked up for them.
  if (last > 0) {
    await tx.execute(sql`CREATE INDEX ON incoming (line_id)`)
    await tx.execute(sql`ANALYZE incoming`)
  }
  await tx.execute(sql`
    CREATE TEMPORARY TABLE changed ON COMMIT DROP AS
    SELECT i.line_id, l.revision, l.settlement_key AS old_key, l.currency AS old_currency, l.content_hash = i.content_hash AS same
    FROM incoming i
    JOIN activity_line l ON l.client_id = current_client() AND l.source = ${source} AND l.line_id = i.line_id
    WHERE NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
      AND x.line_id = l.line_id AND x.revision = l.revision)`)
  await tx.execute(sql`CREATE INDEX ON changed (line_id)`)
  await tx.execute(sql`ANALYZE changed`)
  const { same, revised, total } = await oneRow<{ same: number; revised: number; total: number }>(
    tx,
    sql`
    SELECT count(*) FILTER (WHERE same)::int AS same, count(*) FILTER (WHERE NOT same)::int AS revised,
      (SELECT count(*)::int FROM incoming) AS total FROM changed`,
  )
  if (same === total) return { pullNo: last, added: 0, revised: 0, same, touched: [] }
  const touched = await rowsOf<SettlementKey>(
    tx,
    sql`
    SELECT DISTINCT ${source}::text AS source, key, currency FROM (
      SELECT i.settlement_key AS key, i.currency FROM incoming i LEFT JOIN changed c USING (line_id) WHERE c.same IS NOT TRUE
      UNION ALL SELECT old_key, old_currency FROM changed WHERE NOT same) k`,
  )
  await countWeeks(tx, source, revised > 0)
  await tx.execute(sql`
    INSERT INTO activity_line (client_id, source, revision, pull_no, ${stagedColumns})
    SELECT current_client(), ${source}, coalesce(c.revision, 0) + 1, ${pullNo}, ${stagedFrom('i')}
    FROM incoming i LEFT JOIN changed c ON c.line_id = i.line_id WHERE c.same IS NOT TRUE`)
  await tx.execute(sql`
    INSERT INTO activity_superseded (client_id, source, line_id, revision, pull_no)
    SELECT current_client(), ${source}, line_id, revision, ${pullNo} FROM changed WHERE NOT same`)
  await tx.execute(
    sql`UPDATE source SET last_pull = ${pullNo} WHERE client_id = current_client() AND source = ${source}`,
  )
  return { pullNo, added: total - same - revised, revised, same, touched }
}

// Kept by difference: what the mapping page shows of 13 weeks must not add up a million lines each time.
const countWeeks = async (tx: Transaction, source: string, withOld: boolean): Promise<void> => {
  const old = sql`UNION ALL SELECT l.kind, l.category, l.region, l.currency, l.local_date, -l.amount, -1
    FROM changed c JOIN activity_line l ON l.client_id = current_client() AND l.source = ${source}
      AND l.line_id = c.line_id AND l.revision = c.revision WHERE NOT c.same AND l.status <> 'failed'`
  await tx.execute(sql`
    INSERT INTO activity_week (client_id, source, kind, category, region, currency, week, amount, lines)
    SELECT current_client(), ${source}, kind, coalesce(category, ''), coalesce(region, ''), currency,
      date_trunc('week', local_date)::date, sum(amount), sum(one)
    FROM (SELECT i.kind, i.category, i.region, i.currency, i.local_date, i.amount, 1 AS one
      FROM incoming i LEFT JOIN changed c USING (line_id) WHERE c.same IS NOT TRUE AND i.status <> 'failed'
      ${withOld ? old : sql``}) m
    GROUP BY 3, 4, 5, 6, 7 ORDER BY 3, 4, 5, 6, 7
    ON CONFLICT (client_id, source, kind, category, region, currency, week) DO UPDATE SET
      amount = activity_week.amount + excluded.amount, lines = activity_week.lines + excluded.lines`)
}

/** Brings the figures of settlements up to date with their lines; those that nobody reported a head for are made. */
export const refreshSettlements = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<void> => {
  if (keys.length === 0) return
  await tx.execute(sql`INSERT INTO settlement (client_id, source, key, currency)
    SELECT current_client(), k.source, k.key, k.currency FROM ${keyRows(keys)} ON CONFLICT DO NOTHING`)
  await tx.execute(sql`
    UPDATE settlement s SET first_date = f.first_date, last_date = f.last_date, lines = f.lines, orders = f.orders,
      gross = f.gross, fees = f.fees, payout = f.payout, balance = f.balance
    FROM (
      SELECT l.source, l.settlement_key, l.currency, min(l.local_date) AS first_date, max(l.local_date) AS last_date,
        count(*) AS lines, count(DISTINCT l.order_id) AS orders,
        coalesce(sum(l.amount) FILTER (WHERE p.part IN ('gross', 'tax', 'tenders')), 0) AS gross,
        coalesce(sum(l.amount) FILTER (WHERE p.part = 'fees'), 0) AS fees,
        coalesce(-sum(l.amount) FILTER (WHERE p.part = 'payout'), 0) AS payout, sum(l.amount) AS balance
      FROM ${keyRows(keys)}
      JOIN activity_line l ON l.source = k.source AND l.settlement_key = k.key AND l.currency = k.currency
      JOIN ${partRows()} ON p.kind = l.kind
      WHERE l.client_id = current_client() AND l.status = 'available'
        AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
          AND x.line_id = l.line_id AND x.revision = l.revision)
      GROUP BY 1, 2, 3
    ) f
    WHERE s.client_id = current_client() AND s.source = f.source AND s.key = f.settlement_key AND s.currency = f.currency`)
}

/** For posted settlements: how many lines were revised or added since, and what that comes to. */
export const countCorrections = (tx: Transaction, keys: readonly SettlementKey[]) =>
  tx.execute(sql`
    UPDATE settlement s SET corrections = f.count, correction_amount = f.amount
    FROM (
      SELECT s.source, s.key, s.currency, count(DISTINCT l.line_id) AS count,
        coalesce(sum(CASE WHEN l.pull_no > p.as_of AND x.pull_no IS NULL THEN l.amount
          WHEN l.pull_no <= p.as_of AND x.pull_no > p.as_of THEN -l.amount ELSE 0 END), 0) AS amount
      FROM ${keyRows(keys)}
      JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency AND s.client_id = current_client()
      JOIN LATERAL (SELECT greatest(max(p.pull_no), max(c.pull_no)) AS as_of FROM posting p
        LEFT JOIN correction c USING (client_id, source, key, currency, generation)
        WHERE p.source = s.source AND p.key = s.key AND p.currency = s.currency AND p.generation = s.generation) p ON true
      JOIN activity_line l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
        AND l.currency = s.currency AND l.status = 'available'
      LEFT JOIN activity_superseded x ON x.client_id = l.client_id AND x.source = l.source AND x.line_id = l.line_id
        AND x.revision = l.revision
      WHERE s.state = 'posted' AND (l.pull_no > p.as_of OR x.pull_no > p.as_of)
      GROUP BY 1, 2, 3
    ) f
    WHERE s.client_id = current_client() AND s.source = f.source AND s.key = f.key AND s.currency = f.currency`)
