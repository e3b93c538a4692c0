import { type ConditionName, changeDays, conditionNames, fieldsOf, type RuleText, ruleTexts } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { keysInOrder, type SettlementKey } from '../activity/settlementKey.ts'
import { type AsOf, isMatchedBy, linesOf, routingColumns, textColumns } from '../activity/storedLines.ts'
import { basketsOf, isGoingBack, isSplitAlong, isSupplyLine } from '../activity/supplies.ts'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is, type RowOf, textsOf } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'

// Lines added up in the database by only those columns that a client's routes, rules, detail and tax rows name.

const isPayout = kindIs('payout')
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

/** Columns that are told of some kinds only: of supplies what tax rows and classes look at, and where a payout went. */
const columnsOfKinds = ({ setup }: ClientSetup, named: ReadonlySet<ConditionName>): { column: SQL; as: string }[] => {
  const rows = setup.taxRows?.rows ?? []
  const entries = rows.some(row => row.class) ? (setup.classes?.entries ?? []) : []
  const asked: Partial<Record<ConditionName, boolean>> = {
    taxLabel: rows.some(row => row.label),
    region: rows.some(row => row.region),
    category: entries.some(entry => entry.category),
    sku: entries.some(entry => entry.sku),
  }
  return groupable.flatMap(name => {
    if (named.has(name)) return []
    const of = [...(asked[name] ? [isSupplyLine] : []), ...(name === 'region' ? [isPayout] : [])]
    const column = routingColumns[name]
    return of.length === 0
      ? []
      : [
          {
            column: sql`CASE WHEN ${sql.join(of, sql` OR `)} THEN ${sql.raw(`l."${column}"`)} END`,
            as: column,
          },
        ]
  })
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
const groupShape = {
  /** Of its settlement, among the keys that were asked for. */
  place: is.whole,
  kind: is.kind,
  /** Their first and last local date: between the two nothing changes that decides, and the month does not either. */
  local_date: is.date,
  last_date: is.date,
  amount: is.minor,
  tax_amount: is.maybe(is.minor),
  count: is.whole,
  /** Microseconds since 1970 of the latest of them. */
  latest: is.whole,
  /** Sum of their content hashes, in decimal. */
  hash: is.text,
  /** Its id, where a line is taken by itself: a payout, and what is taxed by what it belongs to or in parts. */
  alone: is.maybe(is.text),
  /** Absent where none of the client's sources collects for another. */
  matched: is.optional(is.yes),
  /** `Goods` that it goes along with, by which alone it is taxed; null: it does not. Absent where no source says so. */
  goods: is.optional(is.maybe(is.text)),
}
/** The routing values and texts that it is told apart by, by column. */
export type NamedValues = Partial<Record<string, string | null>>
export type GroupRow = RowOf<typeof groupShape> & { readonly named: NamedValues }

/** What lines are added up by, and what is told of each group beside its sums. */
const groupingOf = (client: ClientSetup, wanted: WantedGroups) => {
  const named = namedColumns(client, wanted.also ?? [])
  const rules = ruleColumns(client)
  const grouped = groupable.filter(name => named.has(name))
  const columns = grouped.map(name => sql.raw(`l."${routingColumns[name]}"`))
  const texts = rules.texts.map(name => ({
    column: sql.raw(`l."${textColumns[name]}"`),
    as: `text_${name}`,
  }))
  const perLine = [...client.setup.sources.values()].some(source => source.options.taxRounding === 'line')
  const aliased = [...texts, ...columnsOfKinds(client, named)]
  return {
    names: [...grouped.map(name => routingColumns[name]), ...aliased.map(one => one.as)],
    shown: [...columns, ...aliased.map(({ column, as }) => sql`${column} AS ${sql.raw(`"${as}"`)}`)],
    by: [
      ...daysOf(client, wanted.days ?? []),
      ...columns,
      ...aliased.map(one => one.column),
      ...rules.amounts,
      ...(perLine ? [sql`l.amount`] : []),
    ],
  }
}

/** What days are told apart by: the month, and between which days of change; every day where a rule looks at it, or where that is asked for. */
const daysOf = ({ setup }: ClientSetup, also: WantedGroups['days'] & {}): readonly SQL[] => {
  if (also === 'each' || fieldsOf(setup.rules ?? []).has('localDate')) return [sql`l.local_date`]
  const changes = [...new Set([...changeDays(setup), ...also])].sort()
  const month = sql`date_trunc('month', l.local_date::timestamp)`
  return changes.length === 0 ? [month] : [month, sql`width_bucket(l.local_date, ${sql.param(changes)}::date[])`]
}

const list = (parts: readonly SQL[]): SQL => (parts.length > 0 ? sql`, ${sql.join([...parts], sql`, `)}` : sql``)

export interface WantedGroups {
  readonly keys: readonly SettlementKey[]
  readonly asOf: AsOf
  /** Columns that are kept apart besides. */
  readonly also?: readonly ConditionName[]
  /** Days from which lines are kept apart besides, local dates; or each day from the next. */
  readonly days?: 'each' | readonly string[]
}

/** A look through a settlement's lines costs most of composing it, so that one look finds all that is asked of them. */
export const loadGroups = async (tx: Transaction, client: ClientSetup, wanted: WantedGroups): Promise<GroupRow[]> => {
  const { names, shown, by } = groupingOf(client, wanted)
  const along = isSplitAlong(client.setup)
  const matched = isMatchedBy(client, wanted.asOf)
  const lines = linesOf(client, wanted.asOf)
  const alone = [isPayout, ...(client.setup.taxRows ? [isGoingBack] : []), ...(along ? [sql`b.basket LIKE '{%'`] : [])]
  const rows = await rowsOfPrepared(
    tx,
    groupShape,
    sql`
    SELECT k.place::int - 1 AS place, g.* FROM ${keysInOrder(wanted.keys)} CROSS JOIN LATERAL (
      SELECT l.kind, min(l.local_date)::text AS local_date, max(l.local_date)::text AS last_date, sum(l.amount)::bigint AS amount,
        sum(l.tax_amount)::bigint AS tax_amount, count(*)::int AS count, sum(l.content_hash)::text AS hash,
        (extract(epoch FROM max(l.occurred_at)) * 1000000)::bigint AS latest, CASE WHEN ${sql.join(alone, sql` OR `)} THEN l.line_id END AS alone
        ${matched ? sql`, ${matched} AS matched` : sql``}
        ${along ? sql`, CASE WHEN ${along} THEN coalesce(b.basket, '{}') END AS goods` : sql``} ${list(shown)}
      FROM line_as_of l ${along ? sql`LEFT JOIN (${basketsOf(client, { along, lines, asOf: wanted.asOf })}) b ON b.order_id = l.order_id AND ${along}` : sql``}
      WHERE ${lines}
      GROUP BY l.kind, l.tax_amount IS NULL, alone ${matched ? sql`, matched` : sql``} ${along ? sql`, goods` : sql``} ${list(by)}) g`,
  )
  return rows.map(row => Object.assign(row, { named: textsOf(row, names) }))
}
