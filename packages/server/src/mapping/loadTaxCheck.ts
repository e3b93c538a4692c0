import type { TaxCheckPage } from '@culvert/contract'
import { checkTax, type SettlementActivity, type TaxCheck } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { loadActivity } from '../settlements/loadActivity.ts'
import { loadSetup } from '../settlements/loadSetup.ts'
import type { SettlementKey } from '../settlements/settlementKey.ts'
import { loadLedgerTax } from './ledgerTax.ts'

/**
 * Checks the tax of all settlements whose entry is dated in `month` (null: the last one that has any): posted ones by the
 * map they were posted with, the others by today's. What no settlement made is read from its entries.
 */
export const loadTaxCheck = async (tx: Transaction, month: string | null): Promise<TaxCheckPage> => {
  const months = (
    await rowsOf<{ month: string }>(
      tx,
      sql`SELECT DISTINCT to_char(entry_date, 'YYYY-MM') AS month FROM settlement
        WHERE client_id = current_client() AND entry_date IS NOT NULL AND state <> 'set_aside'
        UNION SELECT DISTINCT to_char(date, 'YYYY-MM') FROM entry WHERE client_id = current_client() AND source IS NULL ORDER BY 1 DESC`,
    )
  ).map(row => row.month)
  const chosen = month ?? months[0] ?? null
  if (chosen === null) return { month: null, months, codes: [], labels: [] }
  const checks: TaxCheck[] = []
  for (const [version, keys] of await keysByVersion(tx, chosen)) {
    const client = await loadSetup(tx, version)
    const loaded = await loadActivity(tx, client, { keys, also: ['region', 'taxLabel'] })
    checks.push(
      checkTax(
        loaded.map(({ activity }): SettlementActivity => activity),
        client.setup,
      ),
    )
  }
  checks.push({ codes: await loadLedgerTax(tx, chosen), labels: [] })
  return { month: chosen, months, codes: addCodes(checks), labels: addLabels(checks) }
}

const keysByVersion = async (tx: Transaction, month: string): Promise<Map<number | null, SettlementKey[]>> => {
  const rows = await rowsOf<SettlementKey & { version: number | null }>(
    tx,
    sql`SELECT source, key, currency, CASE WHEN state = 'posted' THEN map_version END AS version FROM settlement
      WHERE client_id = current_client() AND entry_date BETWEEN ${`${month}-01`}::date
        AND (${`${month}-01`}::date + interval '1 month - 1 day') AND state <> 'set_aside'
      ORDER BY source, key, currency`,
  )
  const byVersion = new Map<number | null, SettlementKey[]>()
  for (const { version, ...key } of rows) byVersion.set(version, [...(byVersion.get(version) ?? []), key])
  return byVersion
}

/** Checks made under several versions of the map, added up where code and rates are the same. */
const addCodes = (checks: readonly TaxCheck[]): TaxCheckPage['codes'] => {
  const sums = new Map<string, TaxCheckPage['codes'][number]>()
  for (const { codes } of checks)
    for (const code of codes) {
      const key = JSON.stringify([code.taxCode, code.currency, code.version, code.percent])
      const before = sums.get(key)
      sums.set(
        key,
        before
          ? {
              ...before,
              base: before.base + code.base,
              booked: before.booked + code.booked,
              expected: before.expected + code.expected,
              difference: before.difference + code.difference,
              roundings: before.roundings + code.roundings,
            }
          : code,
      )
    }
  return [...sums.values()]
}

const addLabels = (checks: readonly TaxCheck[]): TaxCheckPage['labels'] => {
  const sums = new Map<string, TaxCheckPage['labels'][number]>()
  for (const { labels } of checks)
    for (const label of labels) {
      const key = JSON.stringify([label.source, label.currency, label.region, label.taxLabel])
      const before = sums.get(key)
      const [base, tax] = [(before?.base ?? 0) + label.base, (before?.tax ?? 0) + label.tax]
      const mapped = new Map(
        [...(before?.mapped ?? []), ...label.mapped].map(one => [`${one.taxCode} ${one.percent}`, one]),
      )
      sums.set(key, {
        ...label,
        base,
        tax,
        lines: (before?.lines ?? 0) + label.lines,
        seenPercent: base === 0 ? null : Math.round((tax / base) * 10_000) / 100,
        mapped: [...mapped.values()],
      })
    }
  return [...sums.values()]
}
