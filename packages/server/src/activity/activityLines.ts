import type { ActivityList, ActivityRow } from '@culvert/contract'
import {
  type ActivityLine,
  bucketKey,
  isSupply,
  type Kind,
  type Resolution,
  type RuleText,
  resolveLine,
  sumMinor,
  supplyParts,
  type WeightedLine,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { postedAs } from './postedAs.ts'
import type { SettlementKey } from './settlementKey.ts'
import { type AsOf, isBooked, isMatched, revisionAsOf, textColumns } from './storedLines.ts'
import { loadSupplies, type Supplies } from './supplies.ts'

export interface StoredLine extends ActivityRow {
  readonly location: string | null
  readonly gateway: string | null
  readonly method: string | null
  readonly taxLabel: string | null
  /** A collection that a channel's tender has booked. */
  readonly matched: boolean
  /** Texts that rules may look at. */
  readonly texts: Readonly<Record<RuleText, string | null>>
}

/** Columns of a stored line, as of now or of a pull. */
export const lineColumns = (
  asOf: AsOf,
) => sql`l.source, l.line_id AS "lineId", l.revision, l.occurred_text AS "occurredAt",
  l.local_date::text AS "localDate", l.kind, l.order_id AS "orderId", l.category, l.sku, l.description, l.region, l.amount,
  l.tax_amount AS "taxAmount", l.status, l.currency, l.location, l.gateway, l.method, l.tax_label AS "taxLabel", ${isMatched(asOf)} AS matched,
  json_build_object(${sql.raw(
    Object.entries(textColumns)
      .map(([name, column]) => `'${name}', l.${column}`)
      .join(', '),
  )}) AS texts`

/** How `lineColumns` are read. */
export const storedLineShape = {
  location: is.maybe(is.text),
  gateway: is.maybe(is.text),
  method: is.maybe(is.text),
  taxLabel: is.maybe(is.text),
  matched: is.yes,
  texts: is.record({
    currency: is.maybe(is.text),
    description: is.maybe(is.text),
    email: is.maybe(is.text),
    url: is.maybe(is.text),
    lineId: is.maybe(is.text),
    orderId: is.maybe(is.text),
    customer: is.maybe(is.text),
    relatedId: is.maybe(is.text),
    settlementId: is.maybe(is.text),
    quantity: is.maybe(is.text),
    shipTo: is.maybe(is.text),
  }),
  source: is.text,
  lineId: is.text,
  revision: is.whole,
  occurredAt: is.text,
  localDate: is.date,
  kind: is.kind,
  orderId: is.maybe(is.text),
  category: is.maybe(is.text),
  sku: is.maybe(is.text),
  description: is.maybe(is.text),
  region: is.maybe(is.text),
  amount: is.minor,
  taxAmount: is.maybe(is.minor),
  status: is.text,
  currency: is.text,
}

/** All booked lines of a settlement, one revision each. */
export const settlementLines = (tx: Transaction, key: SettlementKey, asOf: AsOf): Promise<StoredLine[]> =>
  rowsOf(
    tx,
    storedLineShape,
    sql`
    SELECT ${lineColumns(asOf)} FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source = ${key.source} AND l.settlement_key = ${key.key}
      AND l.currency = ${key.currency} AND ${isBooked} AND ${revisionAsOf(asOf)}
    ORDER BY l.occurred_at, l.line_id`,
  )

type OneLine = Pick<
  WeightedLine,
  'source' | 'category' | 'sku' | 'taxLabel' | 'region' | 'localDate' | 'amount' | 'taxAmount'
> & {
  readonly kind: string
}

/** A stored line, with what is known of it, as the weighted line of count 1. */
export const weightedAs = (
  line: OneLine & Partial<Pick<WeightedLine, 'location' | 'gateway' | 'method' | 'texts'>>,
): WeightedLine => ({
  source: line.source,
  kind: line.kind as ActivityLine['kind'],
  category: line.category,
  sku: line.sku,
  location: line.location ?? null,
  gateway: line.gateway ?? null,
  method: line.method ?? null,
  taxLabel: line.taxLabel,
  region: line.region,
  localDate: line.localDate,
  amount: line.amount,
  taxAmount: line.taxAmount,
  count: 1,
  ...(line.texts && { texts: line.texts }),
})

/** A line, or a part of it, as it is taxed; where it goes, and the bucket it falls into. */
export interface ResolvedPart {
  readonly part: WeightedLine
  readonly resolution: Resolution
  readonly bucket: string | null
}

/** What stored lines are taxed by, as of now or of a pull. */
export const loadSuppliesOf = (
  tx: Transaction,
  client: ClientSetup,
  lines: readonly StoredLine[],
  asOf: AsOf,
): Promise<Supplies> => {
  const supplies = client.setup.taxRows ? lines.filter(line => isSupply(line.kind as Kind)) : []
  return loadSupplies(tx, client, supplies, asOf)
}

/** Resolves a stored line by the routes, rules and tax rows of `client`, in the parts that it is taxed in. */
export const resolveStored = (
  line: StoredLine,
  client: ClientSetup,
  supplies: Supplies | null,
): readonly ResolvedPart[] => {
  const whole = weightedAs(line)
  if (line.matched) return [{ part: whole, resolution: { ok: true, route: null, elsewhere: true }, bucket: null }]
  const { setup } = client
  const source = setup.sources.get(line.source)
  if (!source) throw new RangeError(`unknown source ${line.source}`)
  const parts =
    supplies && setup.taxRows && isSupply(whole.kind)
      ? supplyParts(supplies.lineOf(line.source, line.lineId), whole, { book: supplies.book, setup, source })
      : [whole]
  return parts.map(part => {
    const resolution = resolveLine(part, setup, source, line.currency)
    return { part, resolution, bucket: resolution.ok && !resolution.elsewhere ? bucketKey(resolution) : null }
  })
}

const mostLines = 5000

/** The lines behind one figure of a settlement's statement, as they were posted or are now. */
export const listLines = async (
  tx: Transaction,
  key: SettlementKey,
  part: { kind: string; category: string },
): Promise<ActivityList> => {
  const posted = await postedAs(tx, key)
  const lines = (await settlementLines(tx, key, posted?.pullNo ?? 'now')).filter(
    line => line.kind === part.kind && (line.category ?? '') === part.category,
  )
  return { lines: lines.slice(0, mostLines), total: lines.length, sum: sumMinor(lines, line => line.amount) }
}
