import type { ActivityList } from '@culvert/contract'
import { type SQL, sql } from 'drizzle-orm'
import { lineColumns, storedLineShape } from '../activity/activityLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'

/** Lines told in a list; more are counted. */
const mostLines = 1000

type Value = string | number | null

// Signs that no stored text holds at its ends: values stay apart, and nothing told is not an empty text.
const [between, none] = ['\u001f', '\u001e']
const nameOf = (values: readonly Value[]): string =>
  values.map(value => (value === null ? none : String(value))).join(between)

/**
 * The heaviest lines that are alike, in all `columns`, with one of `alike`: what a page added up by these columns, taken apart again. `total` and
 * `sum` (minor units) are the page's own.
 */
export const listLinesAlike = async (
  tx: Transaction,
  of: {
    readonly where: SQL
    readonly columns: readonly SQL[]
    readonly alike: readonly (readonly Value[])[]
    readonly total: number
    readonly sum: number
  },
): Promise<ActivityList> => {
  const name = sql`concat_ws(${between}::text, ${sql.join(
    of.columns.map(column => sql`coalesce((${column})::text, ${none}::text)`),
    sql`, `,
  )})`
  const lines = await rowsOf(
    tx,
    storedLineShape,
    sql`SELECT ${lineColumns('now')} FROM line_as_of l WHERE ${of.where} AND ${name} = ANY(${sql.param(of.alike.map(nameOf))}::text[])
      ORDER BY abs(l.amount) DESC, l.line_id LIMIT ${mostLines}`,
  )
  return { lines, total: of.total, sum: of.sum }
}
