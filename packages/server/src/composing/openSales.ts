import {
  addMinor,
  type Block,
  blockOfOpenOrders,
  gatewayOf,
  type Kind,
  type OpenOrder,
  openOrderDays,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { lineColumns, resolveStored, storedLineShape } from '../activity/activityLines.ts'
import { keyRows, type SettlementKey, textOfKey } from '../activity/settlementKey.ts'
import { isBooked, revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import type { ComposedOne } from './likelyDoubles.ts'

interface Candidate extends OpenOrder {
  readonly line: {
    readonly key: SettlementKey
    readonly lineId: string
    readonly localDate: string
    readonly amount: number
    readonly kind: Kind
  }
}

/**
 * Blocks gateways' settlements with a collection that nobody tendered, where a channel that tenders to the gateway has an order open by the same amount: most likely the
 * same sale, whose tender was lost. What somebody has decided of the collection lets it pass.
 */
export const blockOpenSales = async (
  tx: Transaction,
  client: ClientSetup,
  all: readonly ComposedOne[],
): Promise<readonly ComposedOne[]> => {
  const keys = all
    .map(one => one.loaded.key)
    .filter(({ source }) => client.setup.sources.get(source)?.shape !== 'channel')
  if (!client.setup.timing || keys.length === 0) return all
  const channels = await loadChannels(tx, client)
  const gateways = keys.filter(({ source }) => channels.has(source))
  if (gateways.length === 0) return all
  const candidates = await loadCandidates(tx, gateways, channels)
  if (candidates.length === 0) return all
  const open = await stillOpen(tx, client, candidates)
  const blocks = new Map(
    gateways.map(key => {
      const mine = open.filter(one => textOfKey(one.line.key) === textOfKey(key))
      const lines = [...new Map(mine.map(({ line }) => [line.lineId, line])).values()]
      const collections = lines.map(({ key: { source, currency }, ...line }) => ({
        ...line,
        source,
        currency,
        category: null,
      }))
      return [textOfKey(key), blockOfOpenOrders(collections, { orders: mine, channels })] as const
    }),
  )
  return all.map(one => {
    const block: Block | null = blocks.get(textOfKey(one.loaded.key)) ?? null
    return block ? { ...one, composed: { ...one.composed, entries: [], blocks: [...one.composed.blocks, block] } } : one
  })
}

/** The channels that tender to each source. */
const loadChannels = async (tx: Transaction, { setup }: ClientSetup): Promise<Map<string, Set<string>>> => {
  const rows = await rowsOf(
    tx,
    { label: is.text, channel: is.text },
    sql`SELECT label, channel FROM tender_label WHERE client_id = current_client()`,
  )
  const channels = new Map<string, Set<string>>()
  for (const { label, channel } of rows) {
    const gateway = gatewayOf({ gateway: label }, setup.labels ?? new Map())
    if (gateway !== null && gateway !== channel)
      channels.set(gateway, (channels.get(gateway) ?? new Set()).add(channel))
  }
  return channels
}

// Open ties and open orders are kept: nothing else is read.
const loadCandidates = async (
  tx: Transaction,
  keys: readonly SettlementKey[],
  channels: ReadonlyMap<string, ReadonlySet<string>>,
): Promise<Candidate[]> => {
  const tendering = [...channels].flatMap(([gateway, all]) => [...all].map(channel => ({ gateway, channel })))
  const rows = await rowsOf(
    tx,
    {
      source: is.text,
      key: is.text,
      currency: is.text,
      lineId: is.text,
      kind: is.kind,
      localDate: is.date,
      amount: is.minor,
      channel: is.text,
      order: is.text,
      from: is.date,
      to: is.date,
    },
    sql`
    SELECT l.source, l.settlement_key AS key, l.currency, l.line_id AS "lineId", l.kind, l.local_date::text AS "localDate", l.amount,
      o.source AS channel, o.order_id AS "order", days."from"::text, days."to"::text
    FROM ${keyRows(keys)}
    JOIN line_as_of l ON l.client_id = current_client() AND l.source = k.source AND l.settlement_key = k.key AND l.currency = k.currency
      AND ${kindIs('collection')} AND ${isBooked} AND ${revisionAsOf('now')}
    JOIN open_tie t ON t.client_id = l.client_id AND t.source = l.source AND t.line_id = l.line_id AND t.revision = l.revision
    JOIN jsonb_to_recordset(${JSON.stringify(tendering)}::jsonb) AS c(gateway text, channel text) ON c.gateway = l.source
    JOIN open_order o ON o.client_id = l.client_id AND o.source = c.channel AND o.currency = l.currency AND o.order_id <> '' AND NOT o.payout
      AND l.amount IN (o.available, o.available + o.pending)
    CROSS JOIN LATERAL (SELECT min(s.local_date) AS "from", max(s.local_date) AS "to" FROM line_as_of s WHERE s.client_id = l.client_id
      AND s.order_id = o.order_id AND s.source = o.source AND s.currency = o.currency AND s.stands) days
    WHERE l.amount <> 0 AND l.local_date BETWEEN days."from" - ${openOrderDays}::int AND days."to" + ${openOrderDays}::int
      AND NOT EXISTS (SELECT FROM payment_decision d WHERE d.client_id = l.client_id AND d.source = l.source AND d.line_id = l.line_id
        AND d.undone_by IS NULL AND d.decision <> 'waits')
    ORDER BY l.line_id, o.order_id`,
  )
  return rows.map(({ source, key, currency, lineId, kind, localDate, amount, channel, order, from, to }) => ({
    ...{ source: channel, order, currency, amount, from, to },
    line: { key: { source, key, currency }, lineId, kind, localDate, amount },
  }))
}

/** Those whose order is open by the amount still, without what its routes send elsewhere, and whose own line is booked here. */
const stillOpen = async (
  tx: Transaction,
  client: ClientSetup,
  candidates: readonly Candidate[],
): Promise<Candidate[]> => {
  const named = JSON.stringify(
    candidates.flatMap(({ source, order, line }) => [
      { source, order, line: null },
      { source: line.key.source, order: null, line: line.lineId },
    ]),
  )
  const lines = await rowsOf(
    tx,
    storedLineShape,
    sql`SELECT ${lineColumns('now')} FROM line_as_of l
      WHERE l.client_id = current_client() AND ${isBooked} AND l.stands AND ${kindIsNot('payout')} AND ${kindIsNot('stock')} AND EXISTS (
        SELECT FROM jsonb_to_recordset(${named}::jsonb) AS n(source text, "order" text, line text)
        WHERE n.source = l.source AND (n."order" = l.order_id OR n.line = l.line_id))`,
  )
  const here = lines.filter(line => !resolveStored(line, client, null).some(({ resolution }) => resolution.elsewhere))
  const hereIds = new Set(here.map(line => JSON.stringify([line.source, line.lineId])))
  const openOf = ({ source, order, currency }: Candidate): number =>
    here.reduce(
      (sum, line) =>
        line.source === source && line.orderId === order && line.currency === currency
          ? addMinor(sum, line.amount)
          : sum,
      0,
    )
  return candidates.filter(
    one => hereIds.has(JSON.stringify([one.line.key.source, one.line.lineId])) && openOf(one) === one.amount,
  )
}
