import type { TieOutLine } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { isBooked, revisionAsOf } from './storedLines.ts'

const tieColumns = sql`l.source, l.line_id AS "lineId", l.kind, l.currency, l.order_id AS "orderId",
  l.related_id AS "relatedId", l.gateway, l.amount, (extract(epoch FROM l.occurred_at) * 1000)::bigint AS instant, l.customer,
  l.local_date::text AS "localDate", l.settlement_key AS "settlementKey"`

export interface StoredTieLine extends TieOutLine {
  readonly settlementKey: string
}

const tieLinesFrom = (tx: Transaction, from: SQL): Promise<StoredTieLine[]> =>
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
    sql`SELECT ${tieColumns} FROM ${from}`,
  )

/**
 * Tenders and collections as they are now that stand in no match, as the FROM and WHERE of a statement; of alias `l` those that `where` lets
 * through. They are kept, so that none of the others is read.
 */
export const openTies = (where: SQL): SQL => sql`open_tie o
  JOIN line_as_of l ON l.client_id = o.client_id AND l.source = o.source AND l.line_id = o.line_id AND l.revision = o.revision
  WHERE o.client_id = current_client() AND ${isBooked} AND ${where}`

/** All of them. */
export const loadOpenTies = (tx: Transaction): Promise<StoredTieLine[]> => tieLinesFrom(tx, openTies(sql`true`))

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
  const lines = await tieLinesFrom(
    tx,
    sql`(SELECT DISTINCT n.source, n.line FROM jsonb_to_recordset(${named}::jsonb) AS n(source text, line text)) n
      JOIN line_as_of l ON l.source = n.source AND l.line_id = n.line
      WHERE l.client_id = current_client() AND ${kindIs('tie')}
        AND ${isBooked} AND ${revisionAsOf('now')}`,
  )
  const keyOf = (source: string, line: string): string => JSON.stringify([source, line])
  const byKey = new Map(lines.map(line => [keyOf(line.source, line.lineId), line]))
  return {
    tenderOf: (match: MatchSides) => byKey.get(keyOf(match.channel, match.tender)),
    collectionOf: (match: MatchSides) => byKey.get(keyOf(match.gateway, match.collection)),
  }
}
