import {
  type BasketPart,
  bookedHere,
  compareText,
  defaultOptions,
  isSupply,
  type PartHere,
  partBookedHere,
  type RuleText,
  type SettlementActivity,
  type SettlementHead,
  splitOverGoods,
  supplyParts,
  type WeightedLine,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { daysOf } from '../activity/countsBy.ts'
import { dayOfKey, type SettlementKey, textOfKey } from '../activity/settlementKey.ts'
import type { AsOf } from '../activity/storedLines.ts'
import { type Goods, loadSupplies, readGoods, type Supplies } from '../activity/supplies.ts'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { figuresOf, inputHashOf, isPayout, type LineFigures, lastDateOf, payoutsOf } from './activityFigures.ts'
import { type GroupRow, loadGroups, ruleColumns, type WantedGroups } from './groupLines.ts'

/** A settlement's activity ready to be composed, and what identifies it. */
export interface LoadedActivity {
  readonly key: SettlementKey
  /** Without what of it is booked elsewhere. */
  readonly activity: SettlementActivity
  readonly partHere: PartHere
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

/**
 * Loads settlements with their lines grouped in the database by only those columns that routes and detail name, and by stretches of days within
 * which nothing changes. `also` and `days` say what the caller wants kept apart besides.
 */
export const loadActivity = async (
  tx: Transaction,
  client: ClientSetup,
  wanted: Omit<WantedGroups, 'asOf'> & { readonly asOf?: AsOf },
): Promise<LoadedActivity[]> => {
  // One named twice would count its lines twice.
  const keys = [...new Map(wanted.keys.map(key => [textOfKey(key), key])).values()]
  if (keys.length === 0) return []
  const heads = await loadHeads(tx, keys)
  const asOf = wanted.asOf ?? 'now'
  const rows = await loadGroups(tx, client, { ...wanted, keys, asOf })
  const groups = keys.map((): GroupRow[] => [])
  for (const row of rows) groups[row.place]?.push(row)
  const supplies = await loadSupplies(tx, client, rows.flatMap(hangingOn(keys)), asOf)
  const { texts } = ruleColumns(client)
  const places = new Map(keys.map((key, place) => [textOfKey(key), place]))
  return heads.map(head => {
    const own = groups[places.get(textOfKey(head)) as number] as GroupRow[]
    return loadedOf(head, own, { texts, client, supplies })
  })
}

/** The line of a row that is taxed by what it belongs to. */
const hangingOn =
  (keys: readonly SettlementKey[]) =>
  ({ place, kind, alone, goods }: GroupRow): { readonly source: string; readonly lineId: string }[] =>
    alone === null || goods || !isSupply(kind) ? [] : [{ source: (keys[place] as SettlementKey).source, lineId: alone }]

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
  const rows = await rowsOfPrepared(
    tx,
    {
      source: is.text,
      key: is.text,
      currency: is.text,
      state: is.text,
      generation: is.whole,
      not_double: is.yes,
      has_head: is.yes,
      period_start: is.maybe(is.text),
      period_end: is.maybe(is.text),
      opening_balance: is.maybe(is.minor),
      closing_balance: is.maybe(is.minor),
      payout_date: is.maybe(is.text),
      payout_reference: is.maybe(is.text),
      url: is.maybe(is.text),
      last_pull: is.whole,
      seen: is.text,
    },
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
  groups: readonly GroupRow[],
  context: { readonly texts: readonly RuleText[]; readonly client: ClientSetup; readonly supplies: Supplies },
): LoadedActivity => {
  const { texts } = context
  const day = dayOfKey(head.key)
  const figures = figuresOf(groups)
  const activity: SettlementActivity = {
    source: head.source,
    currency: head.currency,
    day,
    settlementId: day === null ? head.key : null,
    head: headOf(head),
    lines: groups
      .filter(group => !isPayout(group) && !group.matched)
      .flatMap(group => taxedParts(group, weightedOf(head.source, group, texts), context)),
    payouts: payoutsOf(groups),
    sumOfLines: figures.balance,
    lastDate: lastDateOf(groups, zoneOfSource(head.source, context.client)),
  }
  const source = context.client.setup.sources.get(head.source)
  return {
    key: { source: head.source, key: head.key, currency: head.currency },
    state: head.state,
    generation: head.generation,
    seen: head.seen,
    notDouble: head.not_double,
    pullNo: head.last_pull,
    inputHash: inputHashOf(groups),
    figures,
    partHere: source ? partBookedHere(activity, source) : 'all',
    matched: groups.filter(group => group.matched).map(group => weightedOf(head.source, group, texts)),
    activity: source ? bookedHere(activity, source) : activity,
  }
}

const zoneOfSource = (source: string, client: ClientSetup) =>
  daysOf(client, client.setup.sources.get(source)?.options ?? defaultOptions).zone

/** A group as it is taxed, one line of it in the parts that it is taxed in. */
const taxedParts = (
  row: GroupRow,
  weighted: WeightedLine,
  { client, supplies }: { readonly client: ClientSetup; readonly supplies: Supplies },
): readonly WeightedLine[] => {
  const { setup } = client
  const source = setup.sources.get(weighted.source)
  if (!setup.taxRows || !source || !isSupply(row.kind)) return [weighted]
  if (row.goods) {
    const goods = readGoods(row.goods)
    const supply = { date: row.local_date, region: weighted.region, class: typeof goods === 'string' ? goods : '' }
    if (typeof goods === 'string') return [{ ...weighted, supply }]
    if (row.alone === null) return [{ ...weighted, supply: { ...supply, unsplit: true } }]
    const line = { lineId: row.alone, amount: row.amount }
    return splitOverGoods(line, { ...weighted, supply }, { basket: basketOf(goods), setup, source })
  }
  if (row.alone === null) return [weighted]
  return supplyParts(supplies.lineOf(weighted.source, row.alone), weighted, { book: supplies.book, setup, source })
}

const basketOf = (goods: Exclude<Goods, string>): readonly BasketPart[] =>
  Object.entries(goods)
    .map(([name, sum]) => ({ class: name, amount: BigInt(sum) }))
    .sort((left, right) => compareText(left.class, right.class))

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

const weightedOf = (source: string, row: GroupRow, texts: readonly RuleText[]): WeightedLine => ({
  source,
  kind: row.kind,
  localDate: row.local_date,
  amount: row.amount,
  taxAmount: row.tax_amount,
  count: row.count,
  category: row.named.category ?? null,
  sku: row.named.sku ?? null,
  location: row.named.location ?? null,
  gateway: row.named.gateway ?? null,
  method: row.named.method ?? null,
  taxLabel: row.named.tax_label ?? null,
  region: row.named.region ?? null,
  ...(texts.length > 0 && { texts: Object.fromEntries(texts.map(name => [name, row.named[`text_${name}`] ?? null])) }),
})
