import { monthOf, nextMonth } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const monthsOf = (dates: Iterable<string>): string[] => [...new Set([...dates].map(monthOf))].sort()

/** Months of these dates that are locked, without waiting for anybody. */
export const lockedMonths = async (tx: Transaction, dates: Iterable<string>): Promise<Set<string>> => {
  const rows = await rowsOfPrepared(
    tx,
    { month: is.text },
    sql`
    SELECT month FROM period WHERE locked AND month = ANY(${sql.param(monthsOf(dates))}::char(7)[])`,
  )
  return new Set(rows.map(row => row.month))
}

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

/** The date itself, or where its month is locked the first day of the first open month after it. */
export const firstOpenDay = async (tx: Transaction, date: string): Promise<string> => {
  const rows = await rowsOf(
    tx,
    { month: is.text },
    sql`SELECT month FROM period WHERE locked AND month >= ${monthOf(date)} ORDER BY month`,
  )
  const locked = new Set(rows.map(row => row.month))
  let month = monthOf(date)
  if (!locked.has(month)) return date
  while (locked.has(month)) month = nextMonth(month)
  return `${month}-01`
}
