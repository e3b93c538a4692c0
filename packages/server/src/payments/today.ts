import { sql } from 'drizzle-orm'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** The client's local date now. */
export const loadToday = async (tx: Transaction): Promise<string> =>
  (
    await oneRow(
      tx,
      { today: is.date },
      sql`SELECT (clock_now() AT TIME ZONE time_zone)::date::text AS today FROM client WHERE client_id = current_client()`,
    )
  ).today
