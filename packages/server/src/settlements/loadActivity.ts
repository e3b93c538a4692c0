import {
  type ConditionName,
  conditionNames,
  fieldsOf,
  isSupply,
  type Kind,
  type PayoutLine,
  type RuleText,
  ruleTexts,
  type SettlementActivity,
  type SettlementHead,
  type StatementFigures,
  statementFigures,
  supplyParts,
  type WeightedLine,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import type { ClientSetup } from './loadSetup.ts'
import { dayOfKey, keyRows, type SettlementKey, textOfKey } from './settlementKey.ts'
import { type AsOf, isBookedBy, isMatchedBy, revisionAsOf, routingColumns, textColumns } from './storedLines.ts'
import { basketsOf, isGoingAlong, isGoingBack, isSupplyLine, loadSupplies, type Supplies } from './supplies.ts'

/** A settlement's activity ready to be composed, and what identifies it. */
export interface LoadedActivity {
  readonly key: SettlementKey
  readonly activity: SettlementActivity
  readonly figures: LineFigures
  /** Collections that channels' tenders have booked: they count in the footing and book nothing. */
  readonly matched: readonly WeightedLine[]
  readonly state: string
  readonly generation: number
  /** Changes with every change of the settlement's row. */
  readonly seen: string
  /** Somebody has said that it is no double of an entry in the ledger. */
  readonly notDouble: boolean
  /** The source's last pull that it includes. */
  readonly pullNo: number
  /** Order-free digest of the lines' contents. */
  readonly inputHash: string
}

/** What all its lines come to, payouts among them. Local dates, null without lines. */
export interface LineFigures extends StatementFigures {
  readonly lines: number
  readonly firstDate: string | null
  readonly lastDate: string | null
}

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
const ruleColumns = ({ setup }: ClientSetup): { texts: readonly RuleText[]; amounts: readonly SQL[] } => {
  const fields = fieldsOf(setup.rules ?? [])
  return {
    texts: ruleTexts.filter(name => fields.has(name)),
    amounts: [fields.has('amount') ? [sql`l.amount`] : [], fields.has('taxAmount') ? [sql`l.tax_amount`] : []].flat(),
  }
}

/** Lines alike in all that decides how they are booked, added up; of payouts each for itself. */
interface GroupRow {
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
type NamedValues = Partial<Record<string, string | null>>

/**
 * Loads settlements with their lines grouped in the database by only those columns that routes and detail name.
 * `also` adds columns that the caller wants kept apart.
 */
export const loadActivity = async (
  tx: Transaction,
  client: ClientSetup,
  wanted: { keys: readonly SettlementKey[]; asOf?: AsOf; also?: readonly ConditionName[] },
): Promise<LoadedActivity[]> => {
  // One named twice would count its lines twice.
  const keys = [...new Map(wanted.keys.map(key => [textOfKey(key), key])).values()]
  if (keys.length === 0) return []
  const heads = await loadHeads(tx, keys)
  const groups = new Map<string, (GroupRow & NamedValues)[]>()
  const asOf = wanted.asOf ?? 'now'
  const rows = await loadGroups(tx, client, { ...wanted, keys, asOf })
  const alone = rows.flatMap(({ source, alone: lineId }) => (lineId === null ? [] : [{ source, lineId }]))
  const supplies = await loadSupplies(tx, client, alone, asOf)
  for (const row of rows) {
    const text = textOfKey(row)
    const known = groups.get(text)
    if (known) known.push(row)
    else groups.set(text, [row])
  }
  const { texts } = ruleColumns(client)
  return heads.map(head => loadedOf(head, groups.get(textOfKey(head)) ?? [], { texts, client, supplies }))
}

interface HeadRow {
  readonly source: string
  readonly key: string
  readonly currency: string
  readonly state: string
  readonly generation: number
  readonly not_double: boolean
  readonly has_head: boolean
  readonly period_start: string | null
  readonly period_end: string | null
  readonly opening_balance: number | null
  readonly closing_balance: number | null
  readonly payout_date: string | null
  readonly payout_reference: string | null
  readonly url: string | null
  readonly last_pull: number
  readonly seen: string
}

// One look for all of them, put in order here: the planner takes a client it has no statistics of for an empty one, and any
// index for as good as the key's; asked key by key it then read all of the client's settlements for each.
const loadHeads = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<HeadRow[]> => {
  const values = (name: keyof SettlementKey) => sql.param([...new Set(keys.map(key => key[name]))])
  const rows = await rowsOfPrepared<HeadRow>(
    tx,
    sql`
    SELECT s.source, s.key, s.currency, s.state, s.generation, s.xmin::text AS seen, s.not_double, s.has_head, s.period_start::text, s.period_end::text,
      s.opening_balance, s.closing_balance, s.payout_date::text, s.payout_reference, s.url,
      (SELECT f.last_pull FROM source f WHERE f.client_id = s.client_id AND f.source = s.source) AS last_pull
    FROM settlement s
    WHERE s.client_id = current_client() AND s.source = ANY(${values('source')}::text[])
      AND s.key = ANY(${values('key')}::text[]) AND s.currency = ANY(${values('currency')}::char(3)[])`,
  )
  const found = new Map(rows.map(row => [textOfKey(row), row]))
  return [...keys]
    .map(textOfKey)
    .sort()
    .flatMap(text => found.get(text) ?? [])
}

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

interface Wanted {
  readonly keys: readonly SettlementKey[]
  readonly asOf: AsOf
  readonly also?: readonly ConditionName[]
}

// A look through a settlement's lines costs most of composing it, so that one look finds all that is asked of them; but what goes along with its
// order's goods is added up apart, by these.
const loadGroups = async (
  tx: Transaction,
  client: ClientSetup,
  wanted: Wanted,
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
  wanted: Wanted & { readonly along: SQL },
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

const loadedOf = (
  head: HeadRow,
  groups: readonly (GroupRow & NamedValues)[],
  context: { readonly texts: readonly RuleText[]; readonly client: ClientSetup; readonly supplies: Supplies },
): LoadedActivity => {
  const { texts } = context
  const day = dayOfKey(head.key)
  const figures = figuresOf(groups)
  return {
    key: { source: head.source, key: head.key, currency: head.currency },
    state: head.state,
    generation: head.generation,
    seen: head.seen,
    notDouble: head.not_double,
    pullNo: head.last_pull,
    inputHash: inputHashOf(groups),
    figures,
    matched: groups.filter(group => group.matched).map(group => weightedOf(group, texts)),
    activity: {
      source: head.source,
      currency: head.currency,
      day,
      settlementId: day === null ? head.key : null,
      head: headOf(head),
      lines: groups
        .filter(group => group.payout_line === null && !group.matched)
        .flatMap(group => taxedParts(group, weightedOf(group, texts), context)),
      payouts: payoutsOf(groups),
      sumOfLines: figures.balance,
      lastDate: lastDateOf(groups),
    },
  }
}

/** A group as it is taxed, one line of it in the parts that it is taxed in. */
const taxedParts = (
  row: GroupRow,
  weighted: WeightedLine,
  { client, supplies }: { readonly client: ClientSetup; readonly supplies: Supplies },
): readonly WeightedLine[] => {
  const { setup } = client
  const source = setup.sources.get(row.source)
  if (!setup.taxRows || !source || !isSupply(row.kind)) return [weighted]
  if (row.alone !== null)
    return supplyParts(supplies.lineOf(row.source, row.alone), weighted, { book: supplies.book, setup, source })
  if (!row.along) return [weighted]
  const unsplit = row.basket === null ? ({ unsplit: true } as const) : {}
  return [
    { ...weighted, supply: { date: row.local_date, region: weighted.region, class: row.basket ?? '', ...unsplit } },
  ]
}

const headOf = (row: HeadRow): SettlementHead | null =>
  row.has_head
    ? {
        settlementId: row.key,
        periodStart: row.period_start,
        periodEnd: row.period_end,
        currency: row.currency,
        openingBalance: row.opening_balance,
        closingBalance: row.closing_balance,
        payoutDate: row.payout_date,
        payoutReference: row.payout_reference,
        url: row.url,
      }
    : null

const figuresOf = (groups: readonly GroupRow[]): LineFigures => {
  const dates = groups.map(group => group.local_date).sort()
  return {
    ...statementFigures(groups),
    lines: groups.reduce((count, group) => count + group.count, 0),
    firstDate: dates[0] ?? null,
    lastDate: dates.at(-1) ?? null,
  }
}

const hashRange = 1n << 64n
// A sum, so that the order of the lines does not matter; with their number, so that lines of nothing are seen.
const inputHashOf = (groups: readonly GroupRow[]): string => {
  const sum = groups.reduce((total, group) => total + BigInt(group.hash), 0n)
  const matched = groups.reduce((count, group) => count + (group.matched ? group.count : 0), 0)
  const count = groups.reduce((total, group) => total + group.count, 0)
  return `${sum % hashRange}-${count}${matched > 0 ? `-${matched}` : ''}`
}

/** Local date of the latest line that is no payout. */
const lastDateOf = (groups: readonly GroupRow[]): string | null => {
  let last: GroupRow | null = null
  for (const group of groups)
    if (group.payout_line === null && (last === null || group.latest > last.latest)) last = group
  return last?.local_date ?? null
}

const payoutsOf = (groups: readonly GroupRow[]): PayoutLine[] =>
  groups
    .flatMap(({ kind, payout_line: lineId, payout_region: region, amount, local_date: localDate }) =>
      lineId !== null && (kind === 'payout' || kind === 'payout_returned')
        ? [{ lineId, kind, amount, localDate, region }]
        : [],
    )
    .sort((left, right) => (left.lineId < right.lineId ? -1 : 1))

const weightedOf = (row: GroupRow & NamedValues, texts: readonly RuleText[]): WeightedLine => ({
  source: row.source,
  kind: row.kind,
  localDate: row.local_date,
  amount: row.amount,
  taxAmount: row.tax_amount,
  count: row.count,
  category: row.category ?? null,
  sku: row.sku ?? null,
  location: row.location ?? null,
  gateway: row.gateway ?? null,
  method: row.method ?? null,
  taxLabel: row.tax_label ?? null,
  region: row.region ?? null,
  ...(texts.length > 0 && { texts: Object.fromEntries(texts.map(name => [name, row[`text_${name}`] ?? null])) }),
})
