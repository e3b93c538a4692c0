import {
  gatewayOf,
  goesBack,
  isCollection,
  isTender,
  matchTenders,
  type TenderMatch,
  type TiedByHand,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { loadMatchedLines, loadOpenTies, type MatchSides, type StoredTieLine } from '../activity/tieLines.ts'
import { markStages } from '../course/markStages.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { refreshStatistics } from '../database/statistics.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { countCorrections } from './countCorrections.ts'
import { heldBy, recompose } from './recompose.ts'

/**
 * Matches what channels say was tendered with what gateways say they collected, as far as it is not matched yet, and ends matches
 * whose lines are no such lines any more. What it changes counts as a pull of the gateway: from then on its collections book nothing,
 * and settlements posted before have a correction. Safe to run at any time, and again.
 */
export const tieOut = async (tx: Transaction, changed: { labels: boolean } = { labels: false }): Promise<void> => {
  if (await tie(tx, changed)) await markStages(tx, ['settlements', 'mapping', 'payments', 'clearing'])
}

/** The same for a writer that has more to do before it says what is to be counted anew. False where there is nothing to match. */
export const tie = async (tx: Transaction, changed: { labels: boolean } = { labels: false }): Promise<boolean> => {
  // All of them, in one order: whoever of two pulls ends last sees the lines of both.
  const { rows: sources } = await tx.execute(
    sql`SELECT source FROM source WHERE client_id = current_client() ORDER BY source COLLATE "C" FOR NO KEY UPDATE`,
  )
  if (sources.length < 2) return false
  const client = await loadSetup(tx)
  const ended = await endBroken(tx, client, changed.labels)
  const alone = await loadOpenTies(tx)
  const byHand = await loadTiedByHand(tx)
  const found = matchTenders(alone, { labels: client.setup.labels ?? new Map(), byHand }).filter(
    ({ collection }) => client.setup.sources.get(collection.source)?.clearing[collection.currency] !== undefined,
  )
  if (found.length > 0) await storeMatches(tx, found)
  const touched = new Map(
    [...ended, ...found.map(match => match.collection as StoredTieLine)].map(line => [
      `${line.source} ${line.settlementKey} ${line.currency}`,
      { source: line.source, key: line.settlementKey, currency: line.currency },
    ]),
  )
  await settleGateways(tx, [...touched.values()])
  return true
}

/** What somebody said is the same money, as far as no match says so yet. */
const loadTiedByHand = async (tx: Transaction): Promise<TiedByHand[]> => {
  const rows = await rowsOf(
    tx,
    { channel: is.text, tender: is.text, gateway: is.text, collection: is.text },
    sql`SELECT d.source AS channel, d.line_id AS tender, d.other_source AS gateway, d.other_line AS collection FROM payment_decision d
      WHERE d.client_id = current_client() AND d.decision = 'attached' AND d.undone_by IS NULL AND NOT EXISTS (SELECT FROM tender_match m
        WHERE m.client_id = d.client_id AND m.channel = d.source AND m.tender_line = d.line_id AND m.to_pull IS NULL)
      ORDER BY 1, 2`,
  )
  return rows.map(({ channel, tender, gateway, collection }) => ({
    tender: { source: channel, lineId: tender },
    collection: { source: gateway, lineId: collection },
  }))
}

// Every match has its own gateway's next number: a settlement posted meanwhile rests on the one before, and has a correction.
const storeMatches = async (tx: Transaction, matches: readonly TenderMatch[]): Promise<void> => {
  const rows = matches.map(({ tender, collection, by, difference }) => ({
    gateway: collection.source,
    collection: collection.lineId,
    channel: tender.source,
    tender: tender.lineId,
    by,
    currency: collection.currency,
    difference,
  }))
  await numberPull(
    tx,
    rows.map(row => row.gateway),
  )
  await tx.execute(sql`
    INSERT INTO tender_match (client_id, gateway, collection_line, from_pull, channel, tender_line, "by", currency, difference)
    SELECT current_client(), m.gateway, m.collection, s.last_pull, m.channel, m.tender, m."by", m.currency, m.difference
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb)
      AS m(gateway text, collection text, channel text, tender text, "by" text, currency char(3), difference bigint)
    JOIN source s ON s.client_id = current_client() AND s.source = m.gateway`)
  await refreshStatistics(tx, 'tender_match', matches.length)
}

const numberPull = (tx: Transaction, gateways: readonly string[]) =>
  tx.execute(sql`UPDATE source SET last_pull = last_pull + 1
    WHERE client_id = current_client() AND source = ANY(${sql.param([...new Set(gateways)])}::text[])`)

interface MatchRow extends MatchSides {
  readonly difference: number
}

/** Condition that a match was made by hand, and whoever made it has taken it back. */
const isNotMeant = sql`("by" = 'by_hand' AND NOT EXISTS (SELECT FROM payment_decision d WHERE d.client_id = tender_match.client_id
  AND d.source = channel AND d.line_id = tender_line AND d.other_source = gateway AND d.other_line = collection_line AND d.undone_by IS NULL))`

// A line that failed, became another kind, or changed its means of payment is the other side of nothing. Only one of which a line was
// revised can have; where labels were changed, anything.
const endBroken = async (tx: Transaction, client: ClientSetup, all: boolean): Promise<StoredTieLine[]> => {
  const doubtful = await rowsOf(
    tx,
    { difference: is.minor, gateway: is.text, collection: is.text, channel: is.text, tender: is.text, unmeant: is.yes },
    sql`
    SELECT gateway, collection_line AS collection, channel, tender_line AS tender, difference, ${isNotMeant} AS unmeant FROM tender_match
    WHERE client_id = current_client() AND to_pull IS NULL
      ${all ? sql`` : sql`AND (doubtful OR ${isNotMeant})`}`,
  )
  if (doubtful.length === 0) return []
  const lines = await loadMatchedLines(tx, doubtful)
  const broken = doubtful.filter(
    row => row.unmeant || !holds(row, lines.tenderOf(row), lines.collectionOf(row), client),
  )
  if (!all)
    await tx.execute(
      sql`UPDATE tender_match SET doubtful = false WHERE client_id = current_client() AND to_pull IS NULL AND doubtful`,
    )
  if (broken.length === 0) return []
  await numberPull(
    tx,
    broken.map(row => row.gateway),
  )
  await tx.execute(sql`
    UPDATE tender_match m SET to_pull = s.last_pull FROM source s,
      jsonb_to_recordset(${JSON.stringify(broken)}::jsonb) AS b(gateway text, collection text)
    WHERE m.client_id = current_client() AND m.to_pull IS NULL AND m.gateway = b.gateway AND m.collection_line = b.collection
      AND s.client_id = m.client_id AND s.source = m.gateway`)
  return broken.flatMap(row => lines.collectionOf(row) ?? [])
}

const holds = (
  { difference }: MatchRow,
  tender: StoredTieLine | undefined,
  collection: StoredTieLine | undefined,
  { setup }: ClientSetup,
): boolean =>
  tender !== undefined &&
  collection !== undefined &&
  isTender(tender.kind) &&
  isCollection(collection.kind) &&
  goesBack(tender.kind) === goesBack(collection.kind) &&
  tender.currency === collection.currency &&
  // One whose amounts changed is matched anew, with its new difference.
  tender.amount + collection.amount === difference &&
  gatewayOf(tender, setup.labels ?? new Map()) === collection.source

const settleGateways = async (tx: Transaction, touched: readonly SettlementKey[]): Promise<void> => {
  const waiting = [...(await heldBy(tx, 'awaits_channel')), ...(await heldBy(tx, 'order_open'))]
  if (touched.length + waiting.length > 0) {
    await recompose(tx, [...touched, ...waiting])
    await countCorrections(tx, touched)
  }
}
