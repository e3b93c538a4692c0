import type { RulesPage } from '@culvert/contract'
import { addDays, countTouched, fieldsOf, type Kind, type Rule, ruleTexts, type WeightedLine } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { routingColumns, textColumns } from '../activity/storedLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'

/** Days looked back from the client's last line: 13 weeks. */
const daysBack = 90

export interface Touched {
  readonly from: string | null
  readonly to: string | null
  readonly touched: RulesPage['touched']
}

/**
 * How many lines of the client's last 13 weeks each rule meets, and for how many it decides something that no earlier rule
 * does. Lines are added up by what the rules look at, so that many lines are judged as few.
 */
export const countTouchedLines = async (tx: Transaction, rules: readonly Rule[]): Promise<Touched> => {
  const { latest } = await oneRow(
    tx,
    { latest: is.maybe(is.text) },
    sql`SELECT max(latest)::text AS latest FROM source s CROSS JOIN LATERAL (SELECT max(local_date) AS latest
      FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source) m WHERE s.client_id = current_client()`,
  )
  if (latest === null || rules.length === 0)
    return { from: latest && addDays(latest, -daysBack), to: latest, touched: untouched(rules) }
  const from = addDays(latest, -daysBack)
  const looked = await loadLooked(tx, rules, from)
  const { base, convert } = await loadInBase(tx)
  const counts = countTouched(rules, looked, line => convert(line.amount, line.texts?.currency ?? base))
  return { from, to: latest, touched: [...counts].map(([id, count]) => ({ id, ...count })) }
}

const untouched = (rules: readonly Rule[]) => rules.map(({ id }) => ({ id, met: 0, decides: 0, amount: 0 }))

type LookedRow = {
  source: string
  kind: Kind
  amount: number
  count: number
  day: string | null
  tax: number | null
} & Record<string, string | number | null>

const loadLooked = async (tx: Transaction, rules: readonly Rule[], from: string): Promise<WeightedLine[]> => {
  const fields = fieldsOf(rules)
  const columns = [
    ...Object.entries(routingColumns).filter(([name]) => fields.has(name as never) && name !== 'source'),
    // By currency always, so that what the lines come to can be added up.
    ...ruleTexts
      .filter(name => name === 'currency' || fields.has(name))
      .map(name => [name, textColumns[name]] as const),
  ]
  const named = columns.map(([name, column]) => sql.raw(`, l.${column} AS "${name}"`))
  const byDay = fields.has('localDate')
  const grouped = [
    ...columns.map(([, column]) => sql.raw(`, l.${column}`)),
    ...(byDay ? [sql`, l.local_date`] : []),
    ...(fields.has('amount') ? [sql`, l.amount`] : []),
    ...(fields.has('taxAmount') ? [sql`, l.tax_amount`] : []),
  ]
  const rows = await rowsOf(
    tx,
    {
      source: is.text,
      kind: is.kind,
      amount: is.minor,
      count: is.whole,
      day: is.maybe(is.date),
      tax: is.maybe(is.minor),
    },
    sql`
    SELECT l.source, l.kind, sum(l.amount)::bigint AS amount, sum(l.tax_amount)::bigint AS tax, count(*)::int AS count,
      ${byDay ? sql`l.local_date::text` : sql`NULL`} AS day ${sql.join(named, sql``)}
    FROM line_as_of l
    WHERE l.client_id = current_client() AND l.local_date >= ${from} AND l.source IN (SELECT source FROM source)
      AND l.status = 'available' AND l.stands
    GROUP BY l.source, l.kind ${sql.join(grouped, sql``)}`,
  )
  return rows.map(row => lookedLine(row, from))
}

const lookedLine = (row: LookedRow, from: string): WeightedLine => {
  const text = (name: string): string | null => (row[name] as string | null | undefined) ?? null
  return {
    source: row.source,
    kind: row.kind,
    category: text('category'),
    sku: text('sku'),
    location: text('location'),
    gateway: text('gateway'),
    method: text('method'),
    taxLabel: text('taxLabel'),
    region: text('region'),
    localDate: row.day ?? from,
    amount: row.amount,
    taxAmount: row.tax,
    count: row.count,
    texts: Object.fromEntries(ruleTexts.map(name => [name, text(name)])),
  }
}
