import type { NamedAmount } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { type ClearingAccount, namesOf } from '../activity/clearingAccounts.ts'
import { documentOf } from '../activity/elsewhereLines.ts'
import { isBooked } from '../activity/storedLines.ts'
import { openTies } from '../activity/tieLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import type { Side } from './proofRows.ts'
import { type Corrected, slotParts } from './standingSettlements.ts'

/** The labels by which channels tender to a source: its key, unless that stands for another, and those said to stand for it. */
const labelsOf = (source: string, { setup }: ClientSetup): string[] => {
  const labels = [...(setup.labels ?? new Map<string, string>())]
  const own = setup.labels?.has(source) ? [] : [source]
  return [...own, ...labels.filter(([, stands]) => stands === source).map(([label]) => label)]
}

/** Tenders that go to a clearing account by their means of payment, and the channels that say so. */
export interface TenderSide extends Side {
  /** The same of kept sums of alias `a`. */
  readonly sums: SQL
  readonly channels: readonly string[]
}

/** Tenders to any of an account's sources; null where none of a client's sources tenders to it. */
export const tenderSide = async (
  tx: Transaction,
  clearing: ClearingAccount,
  client: ClientSetup,
): Promise<TenderSide | null> => {
  const sides = clearing.sources.map(({ source }) => ({ source, labels: labelsOf(source, client) }))
  const channels = await rowsOf(
    tx,
    { channel: is.text },
    sql`SELECT DISTINCT channel FROM tender_label WHERE client_id = current_client()
      AND label = ANY(${sql.param(sides.flatMap(side => side.labels))}::text[])`,
  )
  if (channels.length === 0) return null
  // A source that shares the account may tender to another there: what it says of itself is none.
  const sent = sides.map(
    side => sql`(l.source <> ${side.source} AND l.gateway = ANY(${sql.param(side.labels)}::text[]))`,
  )
  const summed = sides.map(
    side => sql`(a.source <> ${side.source} AND a.label = ANY(${sql.param(side.labels)}::text[]))`,
  )
  return {
    channels: channels.map(row => row.channel),
    sign: -1,
    sums: sql`a.part = 'tender' AND (${sql.join(summed, sql` OR `)})`,
    lines: sql`${kindIs('tender')} AND (${sql.join(sent, sql` OR `)})`,
  }
}

// A tender stands on the account from the day on which the gateway collected it.
const collectedOn = sql`coalesce((SELECT c.local_date FROM tender_match m JOIN line_as_of c ON c.client_id = m.client_id
    AND c.source = m.gateway AND c.line_id = m.collection_line
  WHERE m.client_id = l.client_id AND m.channel = l.source AND m.tender_line = l.line_id AND m.to_pull IS NULL
  ORDER BY c.revision DESC LIMIT 1), l.local_date)`

/** Condition that settlement `s` has a tender `t` whose collection `c` by one of an account's gateways stands in some order to it. */
const tendersMatched = (clearing: ClearingAccount, order: SQL): SQL => sql`(s.source, s.key) IN (
      SELECT t.source, t.settlement_key FROM line_as_of c
      JOIN tender_match m ON m.client_id = c.client_id AND m.gateway = c.source AND m.collection_line = c.line_id AND m.to_pull IS NULL
      JOIN line_as_of t ON t.client_id = m.client_id AND t.source = m.channel AND t.line_id = m.tender_line
      WHERE c.client_id = current_client() AND c.source = ANY(${namesOf(clearing.sources)}::text[]) AND ${order})`

/**
 * Settlements of channels that move a gateway's account across a date: what is not posted, what is posted beyond the date, and what the
 * gateway collected after it. Others are in the books with all they have.
 */
export const tenderedSettlements = (
  clearing: ClearingAccount,
  at: { date: string; side: TenderSide; corrected: Corrected },
): SQL => sql`
  SELECT s.source, s.key, s.state, s.entry_date AS place, moved.movements, NULL::json AS payouts
  FROM settlement s
  CROSS JOIN LATERAL ${slotParts.journalEnd} journal
  CROSS JOIN LATERAL (
    SELECT json_agg(json_build_object('date', d.date, 'amount', d.amount, 'bookedOn', d.booked_on,
      'tendered', true)) AS movements FROM (
      SELECT ${collectedOn} AS date, ${slotParts.bookedOn(null)} AS booked_on, -sum(slot.sign * l.amount)::bigint AS amount
      FROM ${slotParts.slots(at.corrected)} CROSS JOIN line_as_of l
      WHERE l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
        AND ${at.side.lines} AND ${isBooked} AND ${slotParts.stood}
      GROUP BY 1, 2) d
  ) moved
  WHERE s.client_id = current_client() AND s.source = ANY(${sql.param([...at.side.channels])}::text[])
    AND NOT s.payouts_only AND s.currency = ${clearing.currency} AND (s.first_date <= ${at.date}::date OR s.entry_date <= ${at.date}::date OR ${tendersMatched(
      clearing,
      sql`c.local_date <= ${at.date}::date AND t.local_date > ${at.date}::date`,
    )})
    AND (${slotParts.notYet} OR s.settled_by > ${at.date}::date OR ${tendersMatched(
      clearing,
      sql`c.local_date > ${at.date}::date AND t.local_date <= ${at.date}::date`,
    )})
    AND moved.movements IS NOT NULL`

/** What keeps the books of a gateway's account from what it collected. */
export interface Uncollected {
  /** What is open, less what was decided of it. */
  readonly open: readonly NamedAmount[]
  /** What was decided of payments that are not open so any more: it is to be taken back. */
  readonly outdated: readonly NamedAmount[]
}

/**
 * Tenders that the gateway never collected, and what it collected beyond or below them; and what decisions have booked of either, on the account
 * at a date. All in the account's sign: what is decided takes its payment out by its own amount.
 */
export const loadUncollected = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { readonly side: TenderSide | null; readonly date: string; readonly decided: boolean },
): Promise<Uncollected> => {
  const parts = [
    ...(at.side ? openPayments(clearing, at.side) : []),
    ...(at.decided ? [decisionsOn(clearing, at.date)] : []),
  ]
  if (parts.length === 0) return { open: [], outdated: [] }
  const rows = await rowsOf(
    tx,
    {
      source: is.text,
      lineId: is.text,
      orderId: is.maybe(is.text),
      date: is.date,
      amount: is.minor,
      of: is.oneOf('payment', 'decision', 'ended'),
      /** The line that decides it, or that it is decided by. */
      named: is.text,
    },
    sql.join(parts, sql` UNION ALL `),
  )
  const left = new Map<string, number>()
  for (const row of rows) left.set(row.named, (left.get(row.named) ?? 0) + row.amount)
  const named = rows.map(row => ({
    ...documentOf(row),
    date: row.date,
    amount: row.amount,
    outdated: row.of === 'decision' && left.get(row.named) !== 0,
  }))
  return { open: named.filter(row => !row.outdated), outdated: named.filter(row => row.outdated) }
}

/** What decisions, and what took them back, have booked on the account up to a date. */
const decisionsOn = (clearing: ClearingAccount, date: string): SQL => sql`
    SELECT p.source, p.line_id AS "lineId", (SELECT l.order_id FROM line_as_of l WHERE l.client_id = d.client_id AND l.source = p.source
        AND l.line_id = p.line_id ORDER BY l.revision DESC LIMIT 1) AS "orderId", b.date::text AS date, b.amount,
      CASE WHEN d.undone_by IS NULL THEN 'decision' ELSE 'ended' END AS of, json_build_array(d.source, d.line_id)::text AS named
    FROM payment_decision d
    -- What a collection was matched with says which order it is.
    LEFT JOIN LATERAL (SELECT m.channel, m.tender_line FROM tender_match m WHERE m.client_id = d.client_id AND m.gateway = d.source
      AND m.collection_line = d.line_id ORDER BY m.from_pull DESC LIMIT 1) tied ON true
    CROSS JOIN LATERAL (SELECT coalesce(tied.channel, d.source) AS source, coalesce(tied.tender_line, d.line_id) AS line_id) p
    CROSS JOIN LATERAL (
      SELECT el.date, el.amount FROM entry_line el WHERE el.client_id = d.client_id AND el.fiscal_year = d.fiscal_year AND el.number = d.number
        AND el.account = ${clearing.account} AND el.currency = ${clearing.currency}
      UNION ALL
      SELECT el.date, el.amount FROM entry r JOIN entry_line el ON el.client_id = r.client_id AND el.fiscal_year = r.fiscal_year AND el.number = r.number
      WHERE r.client_id = d.client_id AND r.reverses_year = d.fiscal_year AND r.reverses_number = d.number
        AND el.account = ${clearing.account} AND el.currency = ${clearing.currency}
    ) b
    WHERE d.client_id = current_client() AND d.number IS NOT NULL AND b.date <= ${date}::date`

const openPayments = (clearing: ClearingAccount, side: TenderSide): SQL[] => [
  sql`
    SELECT l.source, l.line_id AS "lineId", l.order_id AS "orderId", l.local_date::text AS date, -l.amount AS amount, 'payment' AS of,
      json_build_array(l.source, l.line_id)::text AS named
    FROM ${openTies(sql`${side.lines} AND l.currency = ${clearing.currency}`)}`,
  sql`
    SELECT t.source, t.line_id AS "lineId", t.order_id AS "orderId", c.local_date::text AS date, -m.difference AS amount, 'payment' AS of,
      json_build_array(c.source, c.line_id)::text AS named
    FROM tender_match m
    JOIN line_as_of c ON c.client_id = m.client_id AND c.source = m.gateway AND c.line_id = m.collection_line
      AND c.stands
    JOIN line_as_of t ON t.client_id = m.client_id AND t.source = m.channel AND t.line_id = m.tender_line
      AND t.stands
    WHERE m.client_id = current_client() AND m.gateway = ANY(${namesOf(clearing.sources)}::text[]) AND m.to_pull IS NULL
      AND m.difference <> 0 AND m.currency = ${clearing.currency}`,
]
