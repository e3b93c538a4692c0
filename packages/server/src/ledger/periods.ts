import { monthOf } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const monthsOf = (dates: Iterable<string>): string[] => [...new Set([...dates].map(monthOf))].sort()

/**
 * Holds the months of these dates open until the end of the transaction: locking a month waits for it. Returns those
 * that are locked already.
 */
export const holdMonths = async (tx: Transaction, dates: Iterable<string>): Promise<Set<string>> => {
  const wanted = monthsOf(dates)
  const months = sql.param(wanted)
  const hold = () =>
    rowsOfPrepared(
      tx,
      { month: is.text, locked: is.yes },
      sql`
      SELECT month, locked FROM period WHERE client_id = current_client() AND month = ANY(${months}::char(7)[])
      ORDER BY month FOR SHARE`,
    )
  let rows = await hold()
  if (rows.length < wanted.length) {
    await tx.execute(sql`INSERT INTO period (client_id, month)
      SELECT current_client(), m FROM unnest(${months}::char(7)[]) m ORDER BY m ON CONFLICT DO NOTHING`)
    rows = await hold()
  }
  return new Set(rows.filter(row => row.locked).map(row => row.month))
}
