import { performance } from 'node:perf_hooks'
import pg from 'pg'

/** The GROUP BY of the buckets that composing adds up, all rows fetched, in milliseconds. */
export const composeBase = async (url: string, clientId: number): Promise<{ grouping: number; groups: number }> => {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query(`SELECT set_config('app.client', '${Math.trunc(clientId)}', false)`)
    await client.query("SET work_mem = '64MB'; SET jit = off")
    const start = performance.now()
    const { rows } =
      await client.query(`SELECT source, settlement_key, currency, kind, local_date::text, category, region,
        tax_amount IS NULL, sum(amount), sum(tax_amount), count(*)
      FROM activity_line WHERE client_id = current_client() AND status = 'available'
      GROUP BY source, settlement_key, currency, kind, local_date, category, region, tax_amount IS NULL`)
    return { grouping: performance.now() - start, groups: rows.length }
  } finally {
    await client.end()
  }
}
