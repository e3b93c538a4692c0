import type { RoutingValues } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { revisionAsOf, routingColumns } from '../activity/storedLines.ts'
import { isGoingBack, isSupplyLine } from '../activity/supplies.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { InBase } from '../setup/inBase.ts'

/** Days looked back from the client's last line: 13 weeks. */
export const daysBack = 90

/** Supplies of the last 13 weeks alike in all that routes and rows look at. What goes back, or along with goods, bears what these do, and is left out. */
export interface Seen extends RoutingValues {
  readonly since: string | null
  readonly currency: string
  readonly amount: number
  readonly stating: number
  readonly stated: number
  readonly lines: number
}

/** Supplies of the last weeks, added up by all that a tax row may name. */
export const loadSeen = (
  tx: Transaction,
  of: {
    readonly from: string
    readonly periods: readonly string[]
    readonly named: ReadonlySet<string>
    readonly along: SQL | null
  },
): Promise<Seen[]> => {
  const columns = (['sku', 'location', 'method', 'gateway'] as const).map(name =>
    of.named.has(name) ? sql.raw(`l."${routingColumns[name]}" AS "${name}"`) : sql.raw(`NULL::text AS "${name}"`),
  )
  return rowsOf(
    tx,
    {
      since: is.maybe(is.text),
      currency: is.text,
      amount: is.minor,
      stating: is.whole,
      stated: is.minor,
      lines: is.whole,
      source: is.text,
      kind: is.kind,
      category: is.maybe(is.text),
      sku: is.maybe(is.text),
      location: is.maybe(is.text),
      gateway: is.maybe(is.text),
      method: is.maybe(is.text),
      taxLabel: is.maybe(is.text),
      region: is.maybe(is.text),
    },
    sql`
    SELECT l.source, l.kind, l.tax_label AS "taxLabel", l.region, l.category, ${sql.join(columns, sql`, `)},
      (SELECT max(p)::text FROM unnest(${sql.param(of.periods)}::date[]) p WHERE p <= l.local_date) AS since, l.currency,
      sum(l.amount)::bigint AS amount, count(*)::int AS lines,
      coalesce(sum(l.amount) FILTER (WHERE l.tax_amount IS NOT NULL), 0)::bigint AS stating, coalesce(sum(l.tax_amount), 0)::bigint AS stated
    FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source IN (SELECT source FROM source) AND l.local_date >= ${of.from}::date
      AND ${isSupplyLine} AND NOT ${isGoingBack} ${of.along ? sql`AND NOT ${of.along}` : sql``} AND l.status <> 'failed' AND ${revisionAsOf('now')}
    GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11`,
  )
}

/** The same in base. */
export const inBase = (seen: readonly Seen[], { convert }: InBase): Seen[] =>
  seen.map(one => ({
    ...one,
    amount: convert(one.amount, one.currency),
    stating: convert(one.stating, one.currency),
    stated: convert(one.stated, one.currency),
  }))

/** Adds rows up that are alike under a name. */
export const addedUp = <Row extends { amount: number; lines: number }>(
  rows: readonly (Row & { readonly name: string })[],
  add: (sum: Row, row: Row) => Row,
): Row[] => {
  const sums = new Map<string, Row>()
  for (const { name, ...row } of rows) {
    const before = sums.get(name)
    sums.set(name, before ? add(before, row as unknown as Row) : (row as unknown as Row))
  }
  return [...sums.values()].sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
}
