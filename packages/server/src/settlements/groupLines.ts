import { type ConditionName, conditionNames, fieldsOf, type Kind, type RuleText, ruleTexts } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import type { ClientSetup } from './loadSetup.ts'
import { keyRows, type SettlementKey } from './settlementKey.ts'
import { type AsOf, isBookedBy, isMatchedBy, revisionAsOf, routingColumns, textColumns } from './storedLines.ts'
import { basketsOf, isGoingAlong, isGoingBack, isSupplyLine } from './supplies.ts'

// Lines added up in the database by only those columns that a client's routes, rules, detail and tax rows name.

const groupable = conditionNames.filter(name => name !== 'source')

/** The columns that this client's routes and detail name: lines alike in these are booked alike. */
const namedColumns = ({ setup }: ClientSetup, wanted: readonly ConditionName[]): Set<ConditionName> => {
  const named = new Set<ConditionName>(wanted)
  for (const route of setup.routes.routes) for (const name of groupable) if (route[name]) named.add(name)
  for (const source of setup.sources.values()) for (const name of source.options.detail) named.add(name)
  for (const field of fieldsOf(setup.rules ?? []))
    if ((groupable as string[]).includes(field)) named.add(field as never)
  named.add('gateway')
  return named
}

/** What tax rows and classes look at, of supplies, besides the columns that are named anyway. */
const taxColumns = ({ setup }: ClientSetup, named: ReadonlySet<ConditionName>): readonly ConditionName[] => {
  const rows = setup.taxRows?.rows ?? []
  const entries = rows.some(row => row.class) ? (setup.classes?.entries ?? []) : []
  const asked: Partial<Record<ConditionName, boolean>> = {
    taxLabel: rows.some(row => row.label),
    region: rows.some(row => row.region),
    category: entries.some(entry => entry.category),
    sku: entries.some(entry => entry.sku),
  }
  return groupable.filter(name => asked[name] && !named.has(name))
}

/** What the rules look at besides routing values: further texts, and whether lines of unlike amounts must be kept apart. */
export const ruleColumns = ({ setup }: ClientSetup): { texts: readonly RuleText[]; amounts: readonly SQL[] } => {
  const fields = fieldsOf(setup.rules ?? [])
  return {
    texts: ruleTexts.filter(name => fields.has(name)),
    amounts: [fields.has('amount') ? [sql`l.amount`] : [], fields.has('taxAmount') ? [sql`l.tax_amount`] : []].flat(),
  }
}

/** Lines alike in all that decides how they are booked, added up; of payouts each for itself. */
export interface GroupRow {
  readonly source: string
  readonly key: string
  readonly currency: string
  readonly kind: Kind
  readonly local_date: string
  readonly amount: number
  readonly tax_amount: number | null
  readonly count: number
  /** Microseconds since 1970 of the latest of them. */
  readonly latest: number
  /** Sum of their content hashes, in decimal. */
  readonly hash: string
  readonly payout_line: string | null
  readonly payout_region: string | null
  readonly matched: boolean
  /** Goes along with its order's goods, which are all of the class `basket` (empty: none); null: no goods are known. */
  readonly along: boolean
  readonly basket: string | null
  /** Its id, where a line is taxed by what it belongs to or in parts. */
  readonly alone: string | null
}
/** The routing values and texts that it is told apart by, by column. */
export type NamedValues = Partial<Record<string, string | null>>

/** What lines are added up by, and what is told of each group beside its sums. */
const groupingOf = (client: ClientSetup, wanted: readonly ConditionName[]) => {
  const named = namedColumns(client, wanted)
  const rules = ruleColumns(client)
  const columns = groupable.filter(name => named.has(name)).map(name => sql.raw(`l."${routingColumns[name]}"`))
  const texts = rules.texts.map(name => ({
    column: sql.raw(`l."${textColumns[name]}"`),
    as: sql.raw(`"text_${name}"`),
  }))
  // Only supplies are told apart by what their tax hangs on.
  const taxed = taxColumns(client, named).map(name => {
    const column = routingColumns[name]
    return { column: sql`CASE WHEN ${isSupplyLine} THEN ${sql.raw(`l."${column}"`)} END`, as: sql.raw(`"${column}"`) }
  })
  const perLine = [...client.setup.sources.values()].some(source => source.options.taxRounding === 'line')
  const aliased = [...texts, ...taxed]
  return {
    shown: [...columns, ...aliased.map(({ column, as }) => sql`${column} AS ${as}`)],
    by: [...columns, ...aliased.map(one => one.column), ...rules.amounts, ...(perLine ? [sql`l.amount`] : [])],
  }
}

const list = (parts: readonly SQL[]): SQL => (parts.length > 0 ? sql`, ${sql.join([...parts], sql`, `)}` : sql``)
const sums = sql`l.kind, l.local_date::text, sum(l.amount)::bigint AS amount, sum(l.tax_amount)::bigint AS tax_amount,
  count(*)::int AS count, sum(l.content_hash)::text AS hash, (extract(epoch FROM max(l.occurred_at)) * 1000000)::bigint AS latest`

export interface WantedGroups {
  readonly keys: readonly SettlementKey[]
  readonly asOf: AsOf
  readonly also?: readonly ConditionName[]
}

// A look through a settlement's lines costs most of composing it, so that one look finds all that is asked of them; but what goes along with its
// order's goods is added up apart, by these.
export const loadGroups = async (
  tx: Transaction,
  client: ClientSetup,
  wanted: WantedGroups,
): Promise<(GroupRow & NamedValues)[]> => {
  const { shown, by } = groupingOf(client, wanted.also ?? [])
  const along = client.setup.taxRows ? isGoingAlong(client.setup) : null
  const alone = client.setup.taxRows ? sql`CASE WHEN ${isGoingBack} THEN l.line_id END` : sql`NULL::text`
  const rows = await rowsOfPrepared<GroupRow & NamedValues>(
    tx,
    sql`
    SELECT k.source, k.key, k.currency, g.* FROM ${keyRows(wanted.keys)} CROSS JOIN LATERAL (
      SELECT ${sums}, p.line AS payout_line, p.region AS payout_region, m.matched, false AS along, NULL AS basket, ${alone} AS alone ${list(shown)}
      FROM activity_line l
      LEFT JOIN LATERAL (SELECT l.line_id AS line, l.region WHERE l.kind IN ('payout', 'payout_returned')) p ON true
      CROSS JOIN LATERAL (SELECT ${isMatchedBy(client, wanted.asOf)} AS matched) m
      WHERE l.client_id = current_client() AND l.source = k.source AND l.settlement_key = k.key
        AND l.currency = k.currency AND ${isBookedBy(client)} AND ${revisionAsOf(wanted.asOf)} ${along ? sql`AND NOT ${along}` : sql``}
      GROUP BY l.kind, l.local_date, l.tax_amount IS NULL, p.line, p.region, m.matched, alone ${list(by)}) g`,
  )
  return along === null ? rows : [...rows, ...(await loadAlong(tx, client, { ...wanted, along }))]
}

/** Lines that go along with their order's goods: by class where these are of one, by themselves where of several. */
const loadAlong = (
  tx: Transaction,
  client: ClientSetup,
  wanted: WantedGroups & { readonly along: SQL },
): Promise<(GroupRow & NamedValues)[]> => {
  const { shown, by } = groupingOf(client, wanted.also ?? [])
  return rowsOfPrepared<GroupRow & NamedValues>(
    tx,
    sql`
    WITH a AS MATERIALIZED (SELECT l.* FROM ${keyRows(wanted.keys)} JOIN activity_line l ON l.client_id = current_client()
        AND l.source = k.source AND l.settlement_key = k.key AND l.currency = k.currency
      WHERE ${wanted.along} AND ${isBookedBy(client)} AND ${revisionAsOf(wanted.asOf)}),
    b AS MATERIALIZED (${basketsOf(client.setup, wanted.asOf)})
    SELECT l.source, l.settlement_key AS key, l.currency, ${sums}, NULL AS payout_line, NULL AS payout_region, false AS matched, true AS along,
      CASE WHEN b.classes = 1 THEN b.class END AS basket,
      CASE WHEN b.classes > 1 OR ${isGoingBack} THEN l.line_id END AS alone ${list(shown)}
    -- Every order of b has lines in a; a full join is never done by going through one for each of the other.
    FROM a l FULL JOIN b ON b.source = l.source AND b.order_id = l.order_id AND b.currency = l.currency
    GROUP BY l.source, l.settlement_key, l.currency, l.kind, l.local_date, l.tax_amount IS NULL, basket, alone ${list(by)}`,
  )
}
