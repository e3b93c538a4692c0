import { type SQL, sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { keyShape, type SettlementKey } from './settlementKey.ts'
import { stagedColumns, stagedFrom } from './stageActivity.ts'

/** Lines of a pull, of which nothing is deleted: what it brought stands no more, as of a pull of its own, and what it had changed stands again. */
export interface Retracted {
  /** As of which pull. */
  readonly pullNo: number
  readonly gone: number
  readonly restored: number
  /** Settlements and days whose lines these were. */
  readonly touched: readonly SettlementKey[]
}

/** Settlements and days that a pull brought lines to, or took lines from. */
export const keysOfPull = (tx: Transaction, source: string, pullNo: number): Promise<SettlementKey[]> =>
  rowsOf(
    tx,
    keyShape,
    sql`SELECT DISTINCT l.source, l.settlement_key AS key, l.currency FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ${source} AND (l.from_pull = ${pullNo} OR l.to_pull = ${pullNo}) ORDER BY 1, 2, 3`,
  )

/** Lines `l` that stand as a pull brought them, its revisions or such as are once more what they were. */
export const standingOf = (source: string, pullNo: number): SQL =>
  sql`activity_line o JOIN line_as_of l ON l.client_id = o.client_id AND l.source = o.source AND l.line_id = o.line_id AND l.stands
    AND (l.revision = o.revision OR EXISTS (SELECT FROM activity_restored r WHERE r.client_id = l.client_id AND r.source = l.source
      AND r.line_id = l.line_id AND r.revision = l.revision AND r.of_revision = o.revision))
  WHERE o.client_id = current_client() AND o.source = ${source} AND o.pull_no = ${pullNo}
    -- Of what was restored the revision that a pull brought, not its copies.
    AND NOT EXISTS (SELECT FROM activity_restored c WHERE c.client_id = o.client_id AND c.source = o.source AND c.line_id = o.line_id AND c.revision = o.revision)`

/** Takes a pull's lines out of what stands. The source is held, and no later pull has changed any of them. */
export const retractPull = async (tx: Transaction, source: string, pullNo: number): Promise<Retracted> => {
  const touched = await keysOfPull(tx, source, pullNo)
  const { next } = await oneRow(
    tx,
    { next: is.whole },
    sql`UPDATE source SET last_pull = last_pull + 1 WHERE client_id = current_client() AND source = ${source} RETURNING last_pull AS next`,
  )
  const { rowCount: gone } = await tx.execute(sql`
    INSERT INTO activity_superseded (client_id, source, line_id, revision, pull_no)
    SELECT l.client_id, l.source, l.line_id, l.revision, ${next} FROM ${standingOf(source, pullNo)} ORDER BY 3, 4`)
  const { rowCount: restored } = await tx.execute(sql`
    INSERT INTO activity_line (client_id, source, revision, pull_no, ${stagedColumns})
    SELECT b.client_id, b.source, (SELECT max(l.revision) FROM activity_line l WHERE l.client_id = x.client_id AND l.source = x.source
      AND l.line_id = x.line_id) + 1, ${next}, ${stagedFrom('b')} FROM activity_superseded x
    JOIN activity_line b ON b.client_id = x.client_id AND b.source = x.source AND b.line_id = x.line_id AND b.revision = x.revision
    WHERE x.client_id = current_client() AND x.source = ${source} AND x.pull_no = ${pullNo}`)
  await tx.execute(sql`
    INSERT INTO activity_restored (client_id, source, line_id, revision, of_revision)
    SELECT l.client_id, l.source, l.line_id, l.revision, coalesce(r.of_revision, x.revision) FROM activity_line l
    JOIN activity_superseded x ON x.client_id = l.client_id AND x.source = l.source AND x.line_id = l.line_id AND x.pull_no = ${pullNo}
    LEFT JOIN activity_restored r ON r.client_id = x.client_id AND r.source = x.source AND r.line_id = x.line_id AND r.revision = x.revision
    WHERE l.client_id = current_client() AND l.source = ${source} AND l.pull_no = ${next}`)
  await countWeeks(tx, source, next)
  await tx.execute(sql`
    DELETE FROM tender_label t WHERE t.client_id = current_client() AND t.channel = ${source}
      AND t.label IN (SELECT l.gateway FROM activity_line l WHERE l.client_id = t.client_id AND l.source = t.channel AND l.pull_no = ${pullNo})
      AND NOT EXISTS (SELECT FROM line_as_of l WHERE l.client_id = t.client_id AND l.source = t.channel AND l.gateway = t.label AND l.stands
        AND kind_is_tender(l.kind))`)
  await tx.execute(sql`SELECT forget_persons_of(${source}, ${pullNo}::int)`)
  return { pullNo: next, gone: gone ?? 0, restored: restored ?? 0, touched }
}

const countWeeks = (tx: Transaction, source: string, pullNo: number) =>
  tx.execute(sql`
    INSERT INTO activity_week (client_id, source, kind, category, region, currency, week, amount, lines)
    SELECT l.client_id, l.source, l.kind, coalesce(l.category, ''), coalesce(l.region, ''), l.currency,
      l.local_date - ((l.local_date - date '0001-01-01') % 7), sum(at.sign * l.amount), sum(at.sign)
    FROM line_as_of l CROSS JOIN LATERAL (VALUES (l.from_pull, 1), (l.to_pull, -1)) at(pull, sign)
    WHERE l.client_id = current_client() AND l.source = ${source} AND at.pull = ${pullNo} AND l.status <> 'failed'
    GROUP BY 1, 2, 3, 4, 5, 6, 7 ORDER BY 3, 4, 5, 6, 7
    ON CONFLICT (client_id, source, kind, category, region, currency, week) DO UPDATE SET
      amount = activity_week.amount + excluded.amount, lines = activity_week.lines + excluded.lines`)
