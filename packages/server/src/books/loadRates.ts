import type { ExchangeRate } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** A client's exchange rates, the latest first. */
export const loadRates = (tx: Transaction): Promise<ExchangeRate[]> =>
  rowsOf(
    tx,
    { date: is.date, from: is.text, to: is.text, rate: is.text },
    sql`SELECT date::text, "from", "to", rate::text FROM exchange_rate WHERE client_id = current_client()
    ORDER BY date DESC, "from", "to"`,
  )
