import { type SQL, sql } from 'drizzle-orm'
import { is } from '../database/rows.ts'

/** Columns of an entry line, by the names in which the core has them. */
export const entryLineShape = {
  account: is.text,
  amount: is.minor,
  baseAmount: is.minor,
  taxCode: is.text,
  segments: is.text,
  buckets: is.list(is.text),
  routes: is.list(is.whole),
}

/** Reads an entry line that came as JSON. */
export const storedEntryLine = is.record(entryLineShape)

/** The lines of entry `e` as JSON, in their order. */
export const linesOfEntry: SQL = sql`(SELECT json_agg(json_build_object('account', l.account, 'amount', l.amount, 'baseAmount', l.base_amount,
  'taxCode', l.tax_code, 'segments', l.segments, 'buckets', l.buckets, 'routes', l.routes) ORDER BY l.line_no)
  FROM entry_line l WHERE l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number)`
