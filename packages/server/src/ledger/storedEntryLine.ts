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
