import type { ConditionName, RuleText } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'

/** Which revisions count: all that are current, or those stored up to a pull. */
export type AsOf = 'now' | number

/** Where the values that routes look at are stored. */
export const routingColumns: Record<ConditionName, string> = {
  sku: 'sku',
  category: 'category',
  location: 'location',
  method: 'method',
  gateway: 'gateway',
  taxLabel: 'tax_label',
  region: 'region',
  source: 'source',
}
/** Where the further texts that rules can look at are stored. */
export const textColumns: Record<RuleText, string> = {
  lineId: 'line_id',
  settlementId: 'settlement_id',
  orderId: 'order_id',
  description: 'description',
  quantity: 'quantity',
  customer: 'customer',
  email: 'email',
  shipTo: 'ship_to',
  currency: 'currency',
  relatedId: 'related_id',
  url: 'url',
}

/** Condition that a line of alias `l` is booked: available, or pending at a source that books at once. */
export const isBooked: SQL = sql.raw(`(l.status = 'available' OR (l.status = 'pending' AND EXISTS (SELECT FROM source f
  WHERE f.client_id = l.client_id AND f.source = l.source AND f.options->>'bookPending' = 'true')))`)

/** The same of kept sums of alias `a`. */
export const isSumBooked: SQL =
  sql.raw(`(a.status = 'available' OR (a.status = 'pending' AND EXISTS (SELECT FROM source f
  WHERE f.client_id = a.client_id AND f.source = a.source AND f.options->>'bookPending' = 'true')))`)

/** The same, as short as this client's sources allow: looked at for each of a million lines, the long one took half as long again. */
export const isBookedBy = ({ setup }: ClientSetup): SQL =>
  [...setup.sources.values()].some(source => source.options.bookPending) ? isBooked : sql`l.status = 'available'`

/** Stock that a till records as bought passes the clearing account by. */
export const movesClearing: SQL = kindIsNot('stock')

/** Condition that a collection of alias `l` was booked by a channel's tender, as of now or of a pull: it books nothing itself. */
export const isMatched = (asOf: AsOf | SQL): SQL =>
  sql`(${kindIs('collection')} AND EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id
    AND t.gateway = l.source AND t.collection_line = l.line_id
    AND ${asOf === 'now' ? sql`t.to_pull IS NULL` : sql`t.from_pull <= ${asOf} AND coalesce(t.to_pull > ${asOf}, true)`}))`

/** Whether any of a client's sources collects for another: only then are collections looked up among the matches. */
const anyGateway = ({ setup }: ClientSetup): boolean => {
  const sources = [...setup.sources.values()]
  return sources.length > 1 && sources.some(source => source.shape !== 'channel')
}

/** The same; null where this client's sources allow none. */
export const isMatchedBy = (client: ClientSetup, asOf: AsOf): SQL | null =>
  anyGateway(client) ? isMatched(asOf) : null

/** Condition that leaves one revision of each line of an alias of `line_as_of`: the one that stands, or the one that stood as of a pull. */
export const revisionAsOf = (asOf: AsOf | SQL, alias = 'l'): SQL => {
  const line = sql.raw(alias)
  return asOf === 'now'
    ? sql`${line}.stands`
    : sql`(${line}.from_pull <= ${asOf} AND coalesce(${line}.to_pull > ${asOf}, true))`
}

/** Condition that a line of alias `l` is one that the settlement of alias `k` books, as of now or of a pull. */
export const linesOf = (
  client: ClientSetup,
  asOf: AsOf,
): SQL => sql`l.client_id = current_client() AND l.source = k.source
  AND l.settlement_key = k.key AND l.currency = k.currency AND ${isBookedBy(client)} AND ${revisionAsOf(asOf)}`
