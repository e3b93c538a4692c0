import type { ActivityList, RulesPage } from '@culvert/contract'
import {
  addDays,
  countTouched,
  fieldsOf,
  type Kind,
  meetsRule,
  type Rule,
  ruleTexts,
  sumMinor,
  type WeightedLine,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { routingColumns, textColumns } from '../activity/storedLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { listLinesAlike } from './linesAlike.ts'

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
  const { latest } = await latestDay(tx)
  if (latest === null || rules.length === 0)
    return { from: latest && addDays(latest, -daysBack), to: latest, touched: untouched(rules) }
  const from = addDays(latest, -daysBack)
  const looked = (await loadLooked(tx, rules, from)).map(one => one.line)
  const { base, convert } = await loadInBase(tx)
  const counts = countTouched(rules, looked, line => convert(line.amount, line.texts?.currency ?? base))
  return { from, to: latest, touched: [...counts].map(([id, count]) => ({ id, ...count })) }
}

/** The lines of the last 13 weeks that one of the rules meets, the heaviest first; their sum in base. Null where it meets none. */
export const listTouchedLines = async (tx: Transaction, rule: Rule): Promise<ActivityList | null> => {
  const { latest } = await latestDay(tx)
  if (latest === null) return null
  const from = addDays(latest, -daysBack)
  const looked = (await loadLooked(tx, [rule], from)).filter(one => meetsRule(rule, one.line))
  if (looked.length === 0) return null
  const { base, convert } = await loadInBase(tx)
  return listLinesAlike(tx, {
    where: lookedWhere(from),
    columns: columnsOf([rule]).map(([, column]) => column),
    alike: looked.map(one => one.values),
    total: sumMinor(looked, one => one.line.count),
    sum: sumMinor(looked, ({ line }) => convert(line.amount, line.texts?.currency ?? base)),
  })
}

const latestDay = (tx: Transaction) =>
  oneRow(
    tx,
    { latest: is.maybe(is.text) },
    sql`SELECT max(latest)::text AS latest FROM source s CROSS JOIN LATERAL (SELECT max(local_date) AS latest
      FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source) m WHERE s.client_id = current_client()`,
  )

const untouched = (rules: readonly Rule[]) => rules.map(({ id }) => ({ id, met: 0, decides: 0, amount: 0 }))

/** What rules look at of lines, by name; by source, kind and currency always, so that what the lines come to can be added up. */
const columnsOf = (rules: readonly Rule[]): readonly (readonly [string, SQL])[] => {
  const fields = fieldsOf(rules)
  const ofLine = (name: string) => sql.raw(`l."${name}"`)
  return [
    ['source', ofLine('source')],
    ['kind', ofLine('kind')],
    ...Object.entries(routingColumns)
      .filter(([name]) => fields.has(name as never) && name !== 'source')
      .map(([name, column]) => [name, ofLine(column)] as const),
    ...ruleTexts
      .filter(name => name === 'currency' || fields.has(name))
      .map(name => [name, ofLine(textColumns[name])] as const),
    ...(fields.has('localDate') ? [['day', ofLine('local_date')] as const] : []),
    ...(fields.has('amount') ? [['each', ofLine('amount')] as const] : []),
    ...(fields.has('taxAmount') ? [['eachTax', ofLine('tax_amount')] as const] : []),
  ]
}

const lookedWhere = (from: string): SQL => sql`l.client_id = current_client() AND l.local_date >= ${from}
  AND l.source IN (SELECT source FROM source) AND l.status = 'available' AND l.stands`

/** Lines alike in what rules look at, and the values that they are alike in. */
interface Looked {
  readonly line: WeightedLine
  readonly values: readonly (string | null)[]
}

const loadLooked = async (tx: Transaction, rules: readonly Rule[], from: string): Promise<Looked[]> => {
  const columns = columnsOf(rules)
  const all = columns.map(([, column]) => column)
  const rows = await rowsOf(
    tx,
    {
      source: is.text,
      kind: is.kind,
      amount: is.minor,
      count: is.whole,
      tax: is.maybe(is.minor),
      values: is.list(is.maybe(is.text)),
    },
    sql`
    SELECT l.source, l.kind, sum(l.amount)::bigint AS amount, sum(l.tax_amount)::bigint AS tax, count(*)::int AS count,
      json_build_array(${sql.join(
        all.map(column => sql`${column}::text`),
        sql`, `,
      )}) AS values
    FROM line_as_of l WHERE ${lookedWhere(from)} GROUP BY ${sql.join(all, sql`, `)}`,
  )
  const names = columns.map(([name]) => name)
  return rows.map(row => ({ line: lookedLine(row, { names, from }), values: row.values }))
}

const lookedLine = (
  row: {
    readonly source: string
    readonly kind: Kind
    readonly amount: number
    readonly count: number
    readonly tax: number | null
    readonly values: readonly (string | null)[]
  },
  { names, from }: { readonly names: readonly string[]; readonly from: string },
): WeightedLine => {
  const values = new Map(names.map((name, at) => [name, row.values[at]]))
  const text = (name: string): string | null => values.get(name) ?? null
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
    localDate: text('day') ?? from,
    amount: row.amount,
    taxAmount: row.tax,
    count: row.count,
    texts: Object.fromEntries(ruleTexts.map(name => [name, text(name)])),
  }
}
