import { addDays } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { firstOpenDay } from './periods.ts'

/** The date itself, or where its month is locked or a tax period that holds it is filed, the first day after that is open in both. */
export const firstUnfiledDay = async (tx: Transaction, date: string): Promise<string> => {
  const filings = await rowsOf(
    tx,
    { from: is.text, to: is.text },
    sql`SELECT "from"::text, "to"::text FROM tax_filing WHERE client_id = current_client() AND withdrawn_at IS NULL AND "to" >= ${date}::date`,
  )
  for (let day = date; ; ) {
    const open = await firstOpenDay(tx, day)
    const filed = filings.find(one => one.from <= open && open <= one.to)
    if (!filed) return open
    day = addDays(filed.to, 1)
  }
}
