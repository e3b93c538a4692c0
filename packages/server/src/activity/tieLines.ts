import type { TieOutLine } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isBooked } from './storedLines.ts'

const isCurrent = sql`NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
  AND x.line_id = l.line_id AND x.revision = l.revision)`
const tieColumns = sql`l.source, l.line_id AS "lineId", l.kind, l.currency, l.order_id AS "orderId",
  l.related_id AS "relatedId", l.gateway, l.amount, (extract(epoch FROM l.occurred_at) * 1000)::bigint AS instant, l.customer,
  l.local_date::text AS "localDate", l.settlement_key AS "settlementKey"`

export interface StoredTieLine extends TieOutLine {
  readonly settlementKey: string
}

/** Tenders and collections as they are now that stand in no match, or where `where` says so. */
export const loadTieLines = (tx: Transaction, where: SQL): Promise<StoredTieLine[]> =>
  rowsOf(
    tx,
    {
      settlementKey: is.text,
      localDate: is.date,
      gateway: is.maybe(is.text),
      amount: is.minor,
      currency: is.text,
      source: is.text,
      kind: is.kind,
      lineId: is.text,
      orderId: is.maybe(is.text),
      customer: is.maybe(is.text),
      instant: is.whole,
      relatedId: is.maybe(is.text),
    },
    sql`
    SELECT ${tieColumns} FROM activity_line l
    WHERE l.client_id = current_client() AND l.kind IN ('tender', 'tender_returned', 'collected', 'collected_back')
      AND ${isBooked} AND ${isCurrent} AND ${where}`,
  )

/** Condition that a line of alias `l` stands in no match that holds. */
export const isAlone = sql`NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.gateway = l.source
    AND t.collection_line = l.line_id AND t.to_pull IS NULL)
  AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.channel = l.source
    AND t.tender_line = l.line_id AND t.to_pull IS NULL)`

/** Both sides of a match, by source and line id. */
export interface MatchSides {
  readonly gateway: string
  readonly collection: string
  readonly channel: string
  readonly tender: string
}

/** Finds the lines of matches as they are now; a side that is no such line any more is not found. */
export const loadMatchedLines = async (tx: Transaction, matches: readonly MatchSides[]) => {
  const named = JSON.stringify(
    matches.flatMap(match => [
      { source: match.gateway, line: match.collection },
      { source: match.channel, line: match.tender },
    ]),
  )
  const lines = await loadTieLines(
    tx,
    sql`(l.source, l.line_id) IN (SELECT n.source, n.line FROM jsonb_to_recordset(${named}::jsonb) AS n(source text, line text))`,
  )
  const keyOf = (source: string, line: string): string => JSON.stringify([source, line])
  const byKey = new Map(lines.map(line => [keyOf(line.source, line.lineId), line]))
  return {
    tenderOf: (match: MatchSides) => byKey.get(keyOf(match.channel, match.tender)),
    collectionOf: (match: MatchSides) => byKey.get(keyOf(match.gateway, match.collection)),
  }
}
