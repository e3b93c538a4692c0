import type { SettlementHead } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { keyShape, type SettlementKey } from './settlementKey.ts'

/**
 * Stores what a source says of its settlements. Returns those that are new or say something else than before. What a file changes is kept under its job, so that
 * it can be taken back.
 */
export const importHeads = async (
  tx: Transaction,
  source: string,
  heads: readonly SettlementHead[],
  jobId: string | null = null,
): Promise<{ touched: SettlementKey[]; added: number; revised: number }> => {
  const before = await oneRow(
    tx,
    { count: is.whole },
    sql`SELECT count(*)::int AS count FROM settlement WHERE source = ${source} AND has_head`,
  )
  const rows = JSON.stringify(
    heads.map(head => ({
      key: head.settlementId,
      currency: head.currency,
      period_start: head.periodStart,
      period_end: head.periodEnd,
      opening_balance: head.openingBalance,
      closing_balance: head.closingBalance,
      payout_date: head.payoutDate,
      payout_reference: head.payoutReference,
      url: head.url,
    })),
  )
  if (jobId !== null)
    await tx.execute(sql`
      INSERT INTO import_change (client_id, job_id, source, sort, key, currency, before, after)
      SELECT current_client(), ${jobId}, ${source}, 'head', h.key, h.currency, CASE WHEN s.has_head THEN ${headFacts('s')} END, ${headFacts('h')}
      FROM ${headRows(rows)} LEFT JOIN settlement s ON s.client_id = current_client() AND s.source = ${source} AND s.key = h.key AND s.currency = h.currency
      WHERE s.has_head IS NOT TRUE OR ${headFacts('s')} <> ${headFacts('h')}`)
  const touched = await rowsOf(
    tx,
    keyShape,
    sql`
    INSERT INTO settlement AS s (client_id, source, key, currency, has_head, period_start, period_end, opening_balance,
      closing_balance, payout_date, payout_reference, url, first_date, last_date, entry_date)
    SELECT current_client(), ${source}, h.key, h.currency, true, h.period_start, h.period_end, h.opening_balance,
      h.closing_balance, h.payout_date, h.payout_reference, h.url, h.period_start, h.period_end, h.period_end
    FROM ${headRows(rows)}
    ORDER BY h.key COLLATE "C", h.currency
    ON CONFLICT (client_id, source, key, currency) DO UPDATE SET has_head = true, period_start = excluded.period_start,
      period_end = excluded.period_end, opening_balance = excluded.opening_balance,
      closing_balance = excluded.closing_balance, payout_date = excluded.payout_date,
      payout_reference = excluded.payout_reference, url = excluded.url
    WHERE (s.has_head, s.period_start, s.period_end, s.opening_balance, s.closing_balance, s.payout_date, s.payout_reference, s.url)
      IS DISTINCT FROM (true, excluded.period_start, excluded.period_end, excluded.opening_balance,
        excluded.closing_balance, excluded.payout_date, excluded.payout_reference, excluded.url)
    RETURNING s.source, s.key, s.currency`,
  )
  const after = await oneRow(
    tx,
    { count: is.whole },
    sql`SELECT count(*)::int AS count FROM settlement WHERE source = ${source} AND has_head`,
  )
  const added = after.count - before.count
  return { touched, added, revised: touched.length - added }
}

const headColumns = [
  'period_start',
  'period_end',
  'opening_balance',
  'closing_balance',
  'payout_date',
  'payout_reference',
  'url',
] as const

/** What a row of an alias says as a head, as JSON. */
export const headFacts = (alias: string): SQL =>
  sql.raw(`jsonb_build_object(${headColumns.map(name => `'${name}', ${alias}.${name}`).join(', ')})`)

/** Heads in JSON as rows `h`. */
export const headRows = (rows: string): SQL =>
  sql`jsonb_to_recordset(${rows}::jsonb) AS h(key text, currency char(3), period_start date, period_end date,
      opening_balance bigint, closing_balance bigint, payout_date date, payout_reference text, url text)`

/** Says of settlements what was said of them before a file did; nothing, where nothing was. */
export const restoreHeads = (tx: Transaction, source: string, jobId: string): Promise<SettlementKey[]> =>
  rowsOf(
    tx,
    keyShape,
    sql`UPDATE settlement s SET has_head = i.before IS NOT NULL, period_start = (i.before->>'period_start')::date,
        period_end = (i.before->>'period_end')::date, opening_balance = (i.before->>'opening_balance')::bigint,
        closing_balance = (i.before->>'closing_balance')::bigint, payout_date = (i.before->>'payout_date')::date,
        payout_reference = i.before->>'payout_reference', url = i.before->>'url'
      FROM import_change i WHERE i.client_id = current_client() AND i.job_id = ${jobId} AND i.sort = 'head'
        AND s.client_id = i.client_id AND s.source = ${source} AND s.key = i.key AND s.currency = i.currency
      RETURNING s.source, s.key, s.currency`,
  )
