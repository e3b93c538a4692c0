import {
  type ConditionName,
  conditionNames,
  type DetailName,
  type Kind,
  type PayoutLine,
  type SettlementActivity,
  type SettlementHead,
  type WeightedLine,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import type { ClientSetup } from './loadSetup.ts'
import { dayOfKey, keyRows, type SettlementKey, textOfKey } from './settlementKey.ts'

/** A settlement's activity ready to be composed, and what identifies it. */
export interface LoadedActivity {
  readonly key: SettlementKey
  readonly activity: SettlementActivity
  readonly state: string
  readonly generation: number
  /** The source's last pull that it includes. */
  readonly pullNo: number
  /** Order-free digest of the lines' contents. */
  readonly inputHash: string
}

/** Which revisions count: all that are current, or those stored up to a pull. */
export type AsOf = 'now' | number

const columnOf: Record<ConditionName, string> = {
  sku: 'sku',
  category: 'category',
  location: 'location',
  method: 'method',
  gateway: 'gateway',
  taxLabel: 'tax_label',
  region: 'region',
  source: 'source',
}
const groupable = conditionNames.filter(name => name !== 'source')

/** Condition that leaves one revision of each line of alias `l`: the current one, or the one of that pull. */
export const revisionAsOf = (asOf: AsOf): SQL =>
  asOf === 'now'
    ? sql`NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
        AND x.line_id = l.line_id AND x.revision = l.revision)`
    : sql`l.pull_no <= ${asOf} AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id
        AND x.source = l.source AND x.line_id = l.line_id AND x.revision = l.revision AND x.pull_no <= ${asOf})`

/** The columns that this client's routes and detail name: lines alike in these are booked alike. */
const namedColumns = ({ setup }: ClientSetup, wanted: readonly DetailName[]): Set<ConditionName> => {
  const named = new Set<ConditionName>(wanted)
  for (const route of setup.routes.routes) for (const name of groupable) if (route[name]) named.add(name)
  for (const source of setup.sources.values()) for (const name of source.options.detail) named.add(name)
  named.add('gateway')
  return named
}

interface WeightedRow {
  readonly source: string
  readonly key: string
  readonly currency: string
  readonly kind: Kind
  readonly local_date: string
  readonly amount: number
  readonly tax_amount: number | null
  readonly count: number
}

/**
 * Loads settlements with their lines grouped in the database by only those columns that routes and detail name.
 * `also` adds columns that the caller wants kept apart.
 */
export const loadActivity = async (
  tx: Transaction,
  client: ClientSetup,
  wanted: { keys: readonly SettlementKey[]; asOf?: AsOf; also?: readonly DetailName[] },
): Promise<LoadedActivity[]> => {
  if (wanted.keys.length === 0) return []
  const asOf = wanted.asOf ?? 'now'
  const heads = await loadHeads(tx, wanted.keys, asOf)
  const lines = await loadWeighted(tx, client, { ...wanted, asOf })
  return heads.map(head => {
    const key = { source: head.source, key: head.key, currency: head.currency }
    return {
      key,
      state: head.state,
      generation: head.generation,
      pullNo: head.last_pull,
      inputHash: head.input_hash,
      activity: {
        source: head.source,
        currency: head.currency,
        day: dayOfKey(head.key),
        settlementId: dayOfKey(head.key) === null ? head.key : null,
        head: headOf(head),
        lines: lines.get(textOfKey(key)) ?? [],
        payouts: head.payouts ?? [],
        sumOfLines: head.sum_of_lines,
        lastDate: head.last_date,
      },
    }
  })
}

interface HeadRow {
  readonly source: string
  readonly key: string
  readonly currency: string
  readonly state: string
  readonly generation: number
  readonly has_head: boolean
  readonly period_start: string | null
  readonly period_end: string | null
  readonly opening_balance: number | null
  readonly closing_balance: number | null
  readonly payout_date: string | null
  readonly payout_reference: string | null
  readonly url: string | null
  readonly last_pull: number
  readonly sum_of_lines: number
  readonly last_date: string | null
  readonly input_hash: string
  readonly payouts: PayoutLine[] | null
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

const loadHeads = (tx: Transaction, keys: readonly SettlementKey[], asOf: AsOf): Promise<HeadRow[]> =>
  rowsOf<HeadRow>(
    tx,
    sql`
    SELECT s.source, s.key, s.currency, s.state, s.generation, s.has_head, s.period_start::text, s.period_end::text,
      s.opening_balance, s.closing_balance, s.payout_date::text, s.payout_reference, s.url, f.last_pull,
      coalesce(sums.amount, 0)::bigint AS sum_of_lines, sums.last_date::text, coalesce(sums.hash, '0') AS input_hash,
      sums.payouts
    FROM ${keyRows(keys)}
    JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
    JOIN source f ON f.source = s.source
    CROSS JOIN LATERAL (
      SELECT sum(l.amount) AS amount,
        (array_agg(l.local_date ORDER BY l.occurred_at DESC)
          FILTER (WHERE l.kind NOT IN ('payout', 'payout_returned')))[1] AS last_date,
        (mod(sum(l.content_hash::numeric), 18446744073709551616))::text || '-' || count(*) AS hash,
        json_agg(json_build_object('lineId', l.line_id, 'kind', l.kind, 'amount', l.amount, 'localDate', l.local_date,
          'region', l.region) ORDER BY l.line_id) FILTER (WHERE l.kind IN ('payout', 'payout_returned')) AS payouts
      FROM activity_line l
      WHERE l.source = k.source AND l.settlement_key = k.key AND l.currency = k.currency AND l.status = 'available'
        AND ${revisionAsOf(asOf)}
    ) sums
    WHERE s.client_id = current_client()`,
  )

const loadWeighted = async (
  tx: Transaction,
  client: ClientSetup,
  wanted: { keys: readonly SettlementKey[]; asOf: AsOf; also?: readonly DetailName[] },
): Promise<Map<string, WeightedLine[]>> => {
  const named = namedColumns(client, wanted.also ?? [])
  const perLine = [...client.setup.sources.values()].some(source => source.options.taxRounding === 'line')
  const columns = groupable.filter(name => named.has(name)).map(name => columnOf[name])
  if (perLine) columns.push('amount')
  const list = columns.map(column => sql.raw(`l."${column}"`))
  const grouped = list.length > 0 ? sql`, ${sql.join(list, sql`, `)}` : sql``
  const aliased = columns.filter(column => column !== 'amount').map(column => sql.raw(`l."${column}"`))
  const selected = aliased.length > 0 ? sql`, ${sql.join(aliased, sql`, `)}` : sql``
  const rows = await rowsOf<WeightedRow & Record<string, string | null>>(
    tx,
    sql`
    SELECT l.source, l.settlement_key AS key, l.currency, l.kind, l.local_date::text, sum(l.amount)::bigint AS amount,
      sum(l.tax_amount)::bigint AS tax_amount, count(*)::int AS count ${selected}
    FROM ${keyRows(wanted.keys)}
    JOIN activity_line l ON l.source = k.source AND l.settlement_key = k.key AND l.currency = k.currency
    WHERE l.client_id = current_client() AND l.status = 'available' AND l.kind NOT IN ('payout', 'payout_returned')
      AND ${revisionAsOf(wanted.asOf)}
    GROUP BY l.source, l.settlement_key, l.currency, l.kind, l.local_date, l.tax_amount IS NULL ${grouped}`,
  )
  const byKey = new Map<string, WeightedLine[]>()
  for (const row of rows) {
    const key = textOfKey(row)
    const list = byKey.get(key) ?? []
    byKey.set(key, list)
    list.push({
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
    })
  }
  return byKey
}
