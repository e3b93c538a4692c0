import type { DatedAmount, ProofInput, ProofSettlement } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { isAlone, loadTieLines } from '../payments/tieLines.ts'
import type { ClientSetup } from '../settlements/loadSetup.ts'
import { isBooked, revisionAsOf } from '../settlements/storedLines.ts'
import type { ClearingAccount } from './clearingAccounts.ts'
import type { Side } from './proofRows.ts'

/** The labels by which channels tender to a source: its key, unless that stands for another, and those said to stand for it. */
const labelsOf = (source: string, { setup }: ClientSetup): string[] => {
  const labels = [...(setup.labels ?? new Map<string, string>())]
  const own = setup.labels?.has(source) ? [] : [source]
  return [...own, ...labels.filter(([, stands]) => stands === source).map(([label]) => label)]
}

/** Tenders of other sources that go to a clearing account; null where none of a client's sources tenders to it. */
export const tenderSide = async (
  tx: Transaction,
  clearing: ClearingAccount,
  client: ClientSetup,
): Promise<(Side & { readonly channels: readonly string[] }) | null> => {
  const labels = labelsOf(clearing.source, client)
  const channels = await rowsOf<{ channel: string }>(
    tx,
    sql`SELECT DISTINCT channel FROM tender_label WHERE client_id = current_client() AND channel <> ${clearing.source}
      AND label = ANY(${sql.param(labels)}::text[])`,
  )
  if (channels.length === 0) return null
  return {
    channels: channels.map(row => row.channel),
    sign: -1,
    lines: sql`l.source <> ${clearing.source} AND l.kind IN ('tender', 'tender_returned')
      AND l.gateway = ANY(${sql.param(labels)}::text[])`,
  }
}

// A tender stands on the account from the day on which the gateway collected it.
const collectedOn = sql`coalesce((SELECT c.local_date FROM tender_match m JOIN activity_line c ON c.client_id = m.client_id
    AND c.source = m.gateway AND c.line_id = m.collection_line
  WHERE m.client_id = l.client_id AND m.channel = l.source AND m.tender_line = l.line_id AND m.to_pull IS NULL
  ORDER BY c.revision DESC LIMIT 1), l.local_date)`

interface TenderedRow {
  readonly source: string
  readonly key: string
  readonly state: ProofSettlement['state']
  readonly movements: DatedAmount[] | null
  readonly entries: DatedAmount[] | null
}

/**
 * Settlements of channels that move a gateway's account across a date: what is not posted, what is posted beyond the date, and what the
 * gateway collected after it. Others are in the books with all they have.
 */
export const tenderedSettlements = (
  tx: Transaction,
  at: { clearing: ClearingAccount; date: string; side: Side & { readonly channels: readonly string[] } },
) =>
  rowsOf<TenderedRow>(
    tx,
    sql`
    SELECT s.source, s.key, s.state,
      (SELECT json_agg(json_build_object('date', d.date, 'amount', d.amount)) FROM (
        SELECT ${collectedOn} AS date, -sum(l.amount)::bigint AS amount FROM activity_line l
        WHERE l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
          AND ${at.side.lines} AND ${isBooked} AND l.pull_no <= pull.as_of
          AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
            AND x.line_id = l.line_id AND x.revision = l.revision AND x.pull_no <= pull.as_of)
        GROUP BY 1) d) AS movements,
      (SELECT json_agg(json_build_object('date', l.date, 'amount', l.amount))
        FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
        WHERE s.state = 'posted' AND e.client_id = s.client_id AND e.source = s.source AND e.key = s.key
          AND e.currency = s.currency AND e.generation = s.generation AND e.document IN ('journal', 'correction')
          AND l.account = ${at.clearing.account}) AS entries
    FROM settlement s
    LEFT JOIN posting p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key AND p.currency = s.currency
      AND p.generation = s.generation AND s.state = 'posted'
    CROSS JOIN LATERAL (SELECT greatest(p.pull_no, (SELECT max(c.pull_no) FROM correction c WHERE c.source = s.source
      AND c.key = s.key AND c.currency = s.currency AND c.generation = s.generation), CASE WHEN p.pull_no IS NULL THEN 2147483647 END) AS as_of) pull
    WHERE s.client_id = current_client() AND s.source = ANY(${sql.param([...at.side.channels])}::text[])
      AND s.currency = ${at.clearing.currency} AND (s.first_date <= ${at.date} OR s.entry_date <= ${at.date})
      AND (s.state <> 'posted' OR s.settled_by > ${at.date} OR (s.source, s.key) IN (
        SELECT t.source, t.settlement_key FROM activity_line c
        JOIN tender_match m ON m.client_id = c.client_id AND m.gateway = c.source AND m.collection_line = c.line_id AND m.to_pull IS NULL
        JOIN activity_line t ON t.client_id = m.client_id AND t.source = m.channel AND t.line_id = m.tender_line
        WHERE c.client_id = current_client() AND c.source = ${at.clearing.source} AND c.local_date > ${at.date}
          AND t.local_date <= ${at.date}))
    ORDER BY s.entry_date, s.key`,
  )

/** Tenders that the gateway never collected, and what it collected beyond or below them, in the account's sign. */
export const uncollected = async (
  tx: Transaction,
  at: { clearing: ClearingAccount; side: Side },
): Promise<NonNullable<ProofInput['unpaidOrders']>> => {
  const alone = await loadTieLines(tx, sql`${isAlone} AND ${at.side.lines} AND l.currency = ${at.clearing.currency}`)
  const differing = await rowsOf<DatedAmount & { name: string }>(
    tx,
    sql`
    SELECT coalesce(l.order_id, l.line_id) AS name, l.local_date::text AS date, -m.difference AS amount
    FROM tender_match m JOIN activity_line l ON l.client_id = m.client_id AND l.source = m.gateway AND l.line_id = m.collection_line
      AND ${revisionAsOf('now')}
    WHERE m.client_id = current_client() AND m.gateway = ${at.clearing.source} AND m.to_pull IS NULL AND m.difference <> 0
      AND m.currency = ${at.clearing.currency}`,
  )
  return [
    ...alone.map(line => ({ name: line.orderId ?? line.lineId, date: line.localDate, amount: -line.amount })),
    ...differing,
  ]
}
