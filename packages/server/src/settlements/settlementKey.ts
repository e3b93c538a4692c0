import { type SQL, sql } from 'drizzle-orm'

/** Names one settlement of a client, or one business day of a source without settlements. */
export interface SettlementKey {
  readonly source: string
  /** The settlement's id, or `day:YYYY-MM-DD`. */
  readonly key: string
  readonly currency: string
}

const dayPrefix = 'day:'
export const dayKey = (day: string): string => dayPrefix + day
export const dayOfKey = (key: string): string | null => (key.startsWith(dayPrefix) ? key.slice(dayPrefix.length) : null)

/** What people read: the settlement's id, or the source and the day. */
export const settlementName = ({ source, key }: { source: string; key: string }): string => {
  const day = dayOfKey(key)
  return day === null ? key : `${source}:${day}`
}

export const textOfKey = (key: SettlementKey): string => JSON.stringify([key.source, key.key, key.currency])

/** The keys as rows `k(source, key, currency)`, in one order for all who lock them. */
export const keyRows = (keys: readonly SettlementKey[]): SQL => {
  const ordered = [...keys].sort((left, right) => (textOfKey(left) < textOfKey(right) ? -1 : 1))
  return sql`unnest(${sql.param(ordered.map(key => key.source))}::text[], ${sql.param(ordered.map(key => key.key))}::text[],
    ${sql.param(ordered.map(key => key.currency))}::char(3)[]) AS k(source, key, currency)`
}
