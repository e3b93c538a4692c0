import { sql } from 'drizzle-orm'
import type { Waiting } from '../course/stages.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Sources whose last pull failed; the note says how many there are. */
export const countWaiting = (tx: Transaction): Promise<Waiting> =>
  oneRow(
    tx,
    { waiting: is.whole, amount: is.minor, note: is.text },
    sql`
    SELECT count(*) FILTER (WHERE failed)::int AS waiting, 0::bigint AS amount, count(*)::text AS note
    FROM (SELECT (SELECT p.state FROM job p WHERE p.client_id = s.client_id AND p.subject = s.source AND p.sort IN ('pull', 'upload')
      ORDER BY p.ordinal DESC LIMIT 1) = 'failed' AS failed FROM source s WHERE s.client_id = current_client()) x`,
  )
