import { performance } from 'node:perf_hooks'
import pg from 'pg'
import type { Actor } from '../database/connect.ts'

/** The GROUP BY of the buckets that composing adds up, all rows fetched, in milliseconds. */
export const composeBase = async (
  url: string,
  { userId, clientId }: Actor,
): Promise<{ grouping: number; groups: number }> => {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query(
      `SELECT set_config('app.client', '${Math.trunc(clientId)}', false), set_config('app.user', '${Math.trunc(userId)}', false)`,
    )
    await client.query("SET work_mem = '64MB'; SET jit = off")
    const start = performance.now()
    const { rows } =
      await client.query(`SELECT source, settlement_key, currency, kind, local_date::text, category, region,
        tax_amount IS NULL, sum(amount), sum(tax_amount), count(*)
      FROM activity_line WHERE client_id = current_client() AND status = 'available'
      GROUP BY source, settlement_key, currency, kind, local_date, category, region, tax_amount IS NULL`)
    // A base of nothing would make any time look bad, or good.
    if (rows.length === 0) throw new Error('nothing was grouped')
    return { grouping: performance.now() - start, groups: rows.length }
  } finally {
    await client.end()
  }
}
