import { sql } from 'drizzle-orm'
import { together, type Waiting } from '../course/stages.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { isLeft } from './isLeft.ts'

/** Settlements that are not posted, with their gross; the note says how many are blocked. */
export const countWaiting = async (tx: Transaction): Promise<Waiting> =>
  together(
    await rowsOf(
      tx,
      { currency: is.text, waiting: is.whole, amount: is.minor, note: is.whole },
      sql`
    SELECT currency, count(*)::int AS waiting, coalesce(sum(abs(gross)), 0)::bigint AS amount,
      count(*) FILTER (WHERE state = 'blocked')::int AS note
    FROM settlement s WHERE client_id = current_client() AND state IN ('blocked', 'proposed') AND ${isLeft} GROUP BY 1`,
    ),
    await loadInBase(tx),
  )
