import type { Trace, TraceStep } from '@culvert/contract'
import { type Kind, kinds, type MatchEvidence, matchEvidence, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { settlementName } from '../activity/settlementKey.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'

interface OrderLine {
  readonly source: string
  readonly sourceName: string
  readonly lineId: string
  readonly key: string
  readonly currency: string
  readonly date: string
  readonly kind: Kind
  readonly category: string | null
  readonly amount: number
  readonly status: string
  readonly state: string | null
  readonly customer: string | null
  /** By what it is tied to a tender, where it is. */
  readonly matchedBy: MatchEvidence | null
  readonly channel: boolean
}

/**
 * An order wherever it stands: what the shop says of it and what gateways took and gave back for it, in every settlement,
 * the earliest first. Null where all of it is in one settlement, whose path tells more.
 */
export const traceOrder = async (tx: Transaction, order: string): Promise<Trace | null> => {
  const lines = await linesOfOrder(tx, order)
  const settlements = grouped(lines)
  if (settlements.length < 2) return null
  const [first] = lines as [OrderLine]
  // What was sold is the order's amount; without a shop behind it, what was taken.
  const sold = lines.filter(line => line.currency === first.currency && kinds[line.kind].part !== 'tenders')
  const own = sold.some(line => line.channel) ? sold.filter(line => line.channel) : sold
  const steps = settlements.map(stepOf)
  return {
    title: `Order ${order}`,
    amount: sumMinor(own, line => line.amount),
    currency: first.currency,
    steps: [
      {
        sort: 'order',
        here: true,
        title: `${settlements.length} settlements and days`,
        detail: 'what was sold, paid, taken and given back for it, the earliest first',
        count: lines.length,
        amount: null,
        currency: null,
        link: null,
        items: [],
      },
      ...steps,
    ],
  }
}

// Lines of the order, and the other side of each tender and collection that were matched, whatever order they name.
const linesOfOrder = (tx: Transaction, order: string): Promise<OrderLine[]> =>
  rowsOf(
    tx,
    {
      source: is.text,
      sourceName: is.text,
      lineId: is.text,
      key: is.text,
      currency: is.text,
      date: is.date,
      kind: is.kind,
      category: is.maybe(is.text),
      amount: is.minor,
      status: is.text,
      state: is.maybe(is.text),
      customer: is.maybe(is.text),
      matchedBy: is.maybe(is.oneOf('by_hand', ...matchEvidence)),
      channel: is.yes,
    },
    sql`
    WITH own AS (
      SELECT l.source, l.line_id FROM line_as_of l WHERE l.client_id = current_client() AND l.order_id = ${order}
    ), paired AS (
      SELECT m.gateway AS source, m.collection_line AS line_id FROM tender_match m JOIN own ON own.source = m.channel AND own.line_id = m.tender_line
      WHERE m.client_id = current_client() AND m.to_pull IS NULL
      UNION SELECT m.channel, m.tender_line FROM tender_match m JOIN own ON own.source = m.gateway AND own.line_id = m.collection_line
      WHERE m.client_id = current_client() AND m.to_pull IS NULL
    ), wanted AS (SELECT * FROM own UNION SELECT * FROM paired)
    SELECT l.source, f.name AS "sourceName", l.line_id AS "lineId", l.settlement_key AS key, l.currency, l.local_date::text AS date,
      l.kind, l.category, l.amount, l.status, s.state,
      l.customer, (SELECT m."by" FROM tender_match m WHERE m.client_id = l.client_id AND m.to_pull IS NULL
        AND m.gateway = l.source AND m.collection_line = l.line_id) AS "matchedBy",
      EXISTS (SELECT FROM line_as_of t WHERE t.client_id = l.client_id AND t.source = l.source AND t.order_id = ${order}
        AND ${kindIs('tender', 't.kind')}) AS channel
    FROM wanted w
    JOIN line_as_of l ON l.client_id = current_client() AND l.source = w.source AND l.line_id = w.line_id
    JOIN source f ON f.client_id = l.client_id AND f.source = l.source
    LEFT JOIN settlement s ON s.client_id = l.client_id AND s.source = l.source AND s.key = l.settlement_key AND s.currency = l.currency
    WHERE l.stands
    ORDER BY l.occurred_at, l.source, l.line_id LIMIT 500`,
  )

const grouped = (lines: readonly OrderLine[]): OrderLine[][] => {
  const groups = new Map<string, OrderLine[]>()
  for (const line of lines) {
    const name = JSON.stringify([line.source, line.key, line.currency])
    groups.set(name, [...(groups.get(name) ?? []), line])
  }
  return [...groups.values()]
}

const states: Record<string, string> = {
  posted: 'posted',
  proposed: 'to post',
  blocked: 'blocked',
  set_aside: 'set aside',
  elsewhere: 'booked elsewhere',
}

const evidenceWords: Record<MatchEvidence, string> = {
  by_hand: 'by hand',
  order: 'by its order',
  reference: 'by a reference',
  amount_day_name: 'by amount, day and customer',
}

const stepOf = (lines: readonly OrderLine[]): TraceStep => {
  const [{ source, sourceName, key, currency, state }] = lines as [OrderLine]
  return {
    sort: 'line',
    here: false,
    title: `${sourceName} ${settlementName({ source, key })}`,
    detail: states[state ?? ''] ?? 'not in a settlement yet',
    count: lines.length,
    amount: sumMinor(lines, line => line.amount),
    currency,
    link: `/settlements/${encodeURIComponent(source)}/${encodeURIComponent(key)}/${currency}`,
    items: lines.slice(0, 8).map(line => ({
      title: line.lineId,
      detail: [
        line.date,
        kinds[line.kind].label,
        line.category,
        line.matchedBy ? `the same money as a tender, ${evidenceWords[line.matchedBy]}` : '',
        line.matchedBy === 'amount_day_name' ? line.customer : '',
        line.status === 'available' ? '' : line.status,
      ]
        .filter(Boolean)
        .join(' · '),
      amount: line.amount,
      link: `line:${source}/${line.lineId}`,
    })),
  }
}
