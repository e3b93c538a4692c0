import { subjectKey } from '@culvert/contract'
import { compareText } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Names one settlement of a client, or one business day of a source without settlements. */
export interface SettlementKey {
  readonly source: string
  /** The settlement's id, or `day:YYYY-MM-DD`. */
  readonly key: string
  readonly currency: string
}

/** How a key is read. */
export const keyShape = { source: is.text, key: is.text, currency: is.text }

export const settlementState = is.oneOf('blocked', 'proposed', 'posted', 'set_aside', 'elsewhere')

const dayPrefix = 'day:'
export const dayKey = (day: string): string => dayPrefix + day
export const dayOfKey = (key: string): string | null => (key.startsWith(dayPrefix) ? key.slice(dayPrefix.length) : null)

/** What people read: the settlement's id, or the source and the day. */
export const settlementName = ({ source, key }: { source: string; key: string }): string => {
  const day = dayOfKey(key)
  return day === null ? key : `${source}:${day}`
}

/** The key by which acts and notes name it. */
export const subjectOfSettlement = ({ source, key, currency }: SettlementKey): string =>
  subjectKey(source, key, currency)

export const textOfKey = (key: SettlementKey): string => JSON.stringify([key.source, key.key, key.currency])

/** The order in which settlements are locked, here and in `ORDER BY`. */
export const compareKeys = (left: SettlementKey, right: SettlementKey): number =>
  compareText(left.source, right.source) ||
  compareText(left.key, right.key) ||
  compareText(left.currency, right.currency)

/** The same order for settlements `s`. */
export const inKeyOrder = sql.raw('s.source COLLATE "C", s.key COLLATE "C", s.currency COLLATE "C"')
export const inKeyOrderDown = sql.raw('s.source COLLATE "C" DESC, s.key COLLATE "C" DESC, s.currency COLLATE "C" DESC')

/** The keys as rows `k(source, key, currency)`. */
export const keyRows = (keys: readonly SettlementKey[]): SQL => {
  const ordered = [...keys].sort(compareKeys)
  return sql`${unnested(ordered)} AS k(source, key, currency)`
}

const unnested = (keys: readonly SettlementKey[]): SQL =>
  sql`unnest(${sql.param(keys.map(key => key.source))}::text[], ${sql.param(keys.map(key => key.key))}::text[],
    ${sql.param(keys.map(key => key.currency))}::char(3)[])`

/** The keys in the order given, as rows `k(source, key, currency, place)`; places count from 1. */
export const keysInOrder = (keys: readonly SettlementKey[]): SQL =>
  sql`${unnested(keys)} WITH ORDINALITY AS k(source, key, currency, place)`

/** A settlement's row, held until the transaction ends; `seen` changes with every change of the row. */
export interface HeldRow extends SettlementKey {
  readonly state: string
  readonly generation: number
  readonly seen: string
}

/** Holds settlements, in the one order of all who do; those that are not there are left out. */
export const holdSettlements = (tx: Transaction, keys: readonly SettlementKey[]): Promise<HeldRow[]> =>
  keys.length === 0
    ? Promise.resolve([])
    : rowsOf(
        tx,
        { state: is.text, generation: is.whole, seen: is.text, source: is.text, key: is.text, currency: is.text },
        sql`
        SELECT s.source, s.key, s.currency, s.state, s.generation, s.xmin::text AS seen FROM ${keyRows(keys)}
        JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
        WHERE s.client_id = current_client() ORDER BY ${inKeyOrder} FOR NO KEY UPDATE OF s`,
      )
