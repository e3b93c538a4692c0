import type { SettlementHead } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { keyShape, type SettlementKey } from './settlementKey.ts'

/** Stores what a source says of its settlements. Returns those that are new or say something else than before. */
export const importHeads = async (
  tx: Transaction,
  source: string,
  heads: readonly SettlementHead[],
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
  const touched = await rowsOf(
    tx,
    keyShape,
    sql`
    INSERT INTO settlement AS s (client_id, source, key, currency, has_head, period_start, period_end, opening_balance,
      closing_balance, payout_date, payout_reference, url, first_date, last_date, entry_date)
    SELECT current_client(), ${source}, h.key, h.currency, true, h.period_start, h.period_end, h.opening_balance,
      h.closing_balance, h.payout_date, h.payout_reference, h.url, h.period_start, h.period_end, h.period_end
    FROM jsonb_to_recordset(${rows}::jsonb) AS h(key text, currency char(3), period_start date, period_end date,
      opening_balance bigint, closing_balance bigint, payout_date date, payout_reference text, url text)
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
