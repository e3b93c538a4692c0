import type { ReportedBalance } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** What a row of an alias says that is held, as JSON. */
export const balanceFacts = (alias: string): SQL =>
  sql.raw(
    `jsonb_build_object('available', ${alias}.available, 'pending', ${alias}.pending, 'reserve', ${alias}.reserve)`,
  )

/**
 * Stores what the processor says it holds; a date that is reported again is replaced. Returns how many are new. What a file changes is kept under its job, so
 * that it can be taken back.
 */
export const importBalances = async (
  tx: Transaction,
  source: string,
  balances: readonly ReportedBalance[],
  jobId: string | null = null,
): Promise<number> => {
  const told = sql`(SELECT DISTINCT ON (b.currency, b.date) b.* FROM jsonb_to_recordset(${JSON.stringify(balances)}::jsonb)
      AS b(currency char(3), date date, available bigint, pending bigint, reserve bigint) ORDER BY b.currency, b.date) b`
  if (jobId !== null)
    await tx.execute(sql`
      INSERT INTO import_change (client_id, job_id, source, sort, key, currency, before, after)
      SELECT current_client(), ${jobId}, ${source}, 'balance', b.date::text, b.currency,
        CASE WHEN r.date IS NOT NULL THEN ${balanceFacts('r')} END, ${balanceFacts('b')}
      FROM ${told} LEFT JOIN reported_balance r ON r.client_id = current_client() AND r.source = ${source} AND r.currency = b.currency AND r.date = b.date
      WHERE r.date IS NULL OR ${balanceFacts('r')} <> ${balanceFacts('b')}`)
  const rows = await rowsOf(
    tx,
    { fresh: is.yes },
    sql`
    INSERT INTO reported_balance AS r (client_id, source, currency, date, available, pending, reserve)
    SELECT current_client(), ${source}, b.currency, b.date, b.available, b.pending, b.reserve FROM ${told}
    ON CONFLICT (client_id, source, currency, date) DO UPDATE SET available = excluded.available, pending = excluded.pending,
      reserve = excluded.reserve
    RETURNING xmax = 0 AS fresh`,
  )
  return rows.filter(row => row.fresh).length
}

/** Says of a processor's balances what was said before a file did; nothing, where nothing was. */
export const restoreBalances = async (tx: Transaction, source: string, jobId: string): Promise<void> => {
  const changes = sql`import_change i WHERE i.client_id = current_client() AND i.job_id = ${jobId} AND i.sort = 'balance'
    AND r.client_id = i.client_id AND r.source = ${source} AND r.currency = i.currency AND r.date = i.key::date`
  await tx.execute(sql`UPDATE reported_balance r SET available = (i.before->>'available')::bigint, pending = (i.before->>'pending')::bigint,
    reserve = (i.before->>'reserve')::bigint FROM ${changes} AND i.before IS NOT NULL`)
  await tx.execute(sql`DELETE FROM reported_balance r USING ${changes} AND i.before IS NULL`)
}
