import type { ActivityList } from '@culvert/contract'
import { type RoutingValues, sumMinor } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { revisionAsOf, routingColumns } from '../activity/storedLines.ts'
import { isGoingBack, isSupplyLine } from '../activity/supplies.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { InBase } from '../setup/inBase.ts'
import { listLinesAlike } from './linesAlike.ts'

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

/** Which supplies of the last weeks are looked at, and what tells them apart. */
export interface SeenOf {
  readonly from: string
  readonly periods: readonly string[]
  readonly named: ReadonlySet<string>
  readonly along: SQL | null
  /** Where each source sells that says so. */
  readonly places: Readonly<Record<string, string>>
}

const columnsOf = ({ periods, named, places }: SeenOf): readonly (readonly [keyof Seen, SQL])[] => [
  ['source', sql`l.source`],
  ['kind', sql`l.kind`],
  ['taxLabel', sql`l.tax_label`],
  // Of lines that tell none, the place where their source sells.
  [
    'region',
    Object.keys(places).length === 0
      ? sql`l.region`
      : sql`coalesce(l.region, ${JSON.stringify(places)}::jsonb ->> l.source)`,
  ],
  ['category', sql`l.category`],
  ...(['sku', 'location', 'method', 'gateway'] as const).map(
    name => [name, named.has(name) ? sql.raw(`l."${routingColumns[name]}"`) : sql`NULL::text`] as const,
  ),
  ['since', sql`(SELECT max(p)::text FROM unnest(${sql.param(periods)}::date[]) p WHERE p <= l.local_date)`],
  ['currency', sql`l.currency`],
]

const seenWhere = ({
  from,
  along,
}: SeenOf): SQL => sql`l.client_id = current_client() AND l.source IN (SELECT source FROM source)
  AND l.local_date >= ${from}::date AND ${isSupplyLine} AND NOT ${isGoingBack} ${along ? sql`AND NOT ${along}` : sql``}
  AND l.status <> 'failed' AND ${revisionAsOf('now')}`

/** Supplies of the last weeks, added up by all that a tax row may name. */
export const loadSeen = (tx: Transaction, of: SeenOf): Promise<Seen[]> => {
  const columns = columnsOf(of)
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
    SELECT ${sql.join(
      columns.map(([name, column]) => sql`${column} AS ${sql.identifier(name)}`),
      sql`, `,
    )}, sum(l.amount)::bigint AS amount, count(*)::int AS lines,
      coalesce(sum(l.amount) FILTER (WHERE l.tax_amount IS NOT NULL), 0)::bigint AS stating, coalesce(sum(l.tax_amount), 0)::bigint AS stated
    FROM line_as_of l WHERE ${seenWhere(of)}
    GROUP BY ${sql.raw(columns.map((_, at) => at + 1).join(', '))}`,
  )
}

/** The lines behind some of what was seen; their sum in base. */
export const listSeenLines = (
  tx: Transaction,
  of: SeenOf,
  { seen, convert }: { readonly seen: readonly Seen[] } & Pick<InBase, 'convert'>,
): Promise<ActivityList> => {
  const columns = columnsOf(of)
  return listLinesAlike(tx, {
    where: seenWhere(of),
    columns: columns.map(([, column]) => column),
    alike: seen.map(one => columns.map(([name]) => one[name] as string | null)),
    total: sumMinor(seen, one => one.lines),
    sum: sumMinor(seen, one => convert(one.amount, one.currency)),
  })
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
