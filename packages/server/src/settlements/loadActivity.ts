import {
  type ConditionName,
  isSupply,
  type PayoutLine,
  type RuleText,
  type SettlementActivity,
  type SettlementHead,
  type StatementFigures,
  statementFigures,
  supplyParts,
  type WeightedLine,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { type GroupRow, loadGroups, type NamedValues, ruleColumns } from './groupLines.ts'
import type { ClientSetup } from './loadSetup.ts'
import { dayOfKey, type SettlementKey, textOfKey } from './settlementKey.ts'
import type { AsOf } from './storedLines.ts'
import { loadSupplies, type Supplies } from './supplies.ts'

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
