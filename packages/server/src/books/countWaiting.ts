import { sql } from 'drizzle-orm'
import type { Waiting } from '../course/stages.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Nothing waits in the books; the note says how many entries they have. */
export const countWaiting = (tx: Transaction): Promise<Waiting> =>
  oneRow(
    tx,
    { waiting: is.whole, amount: is.minor, note: is.text },
    sql`
    SELECT 0 AS waiting, 0::bigint AS amount, coalesce(sum(n.next - c.first_number), 0)::text AS note FROM number_counter n JOIN client c USING (client_id)
    WHERE client_id = current_client()`,
  )
