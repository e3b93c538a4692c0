import { findDoubles, type ProofInput } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { settlementRef } from './proofRows.ts'

const entryName = sql`e.fiscal_year || '-' || lpad(e.number::text, 4, '0')`

/** Entries on an account that no source made, with the entry of a source that each repeats; those taken back by the date left out. */
export const loadByHand = async (
  tx: Transaction,
  on: { account: string; currency: string },
  date: string,
  documents: SQL = sql`true`,
): Promise<ProofInput['byHand']> => {
  const rows = await rowsOf(
    tx,
    { made: is.yes, date: is.date, amount: is.minor, name: is.text, fiscalYear: is.whole, number: is.whole },
    sql`
    WITH by_hand AS MATERIALIZED (
      SELECT ${entryName} || CASE WHEN e.memo = '' THEN '' ELSE ', ' || e.memo END AS name, e.fiscal_year, e.number, l.date, l.amount, e.date AS entered
      FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
      WHERE e.client_id = current_client() AND e.source IS NULL AND NOT ${isDocument('opens')} AND NOT ${isDocument('decides')} AND l.account = ${on.account}
        AND l.currency = ${on.currency} AND e.date <= ${date} AND l.amount <> 0 AND ${documents} AND e.reverses_number IS NULL
        AND NOT EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year
          AND r.reverses_number = e.number AND r.date <= ${date})
    ), amounts AS MATERIALIZED (SELECT DISTINCT date, amount FROM by_hand)
    SELECT made, name, fiscal_year AS "fiscalYear", number, date::text AS date, amount FROM (
      SELECT false AS made, name, fiscal_year, number, date, amount, entered FROM by_hand
      UNION ALL
      SELECT true, ${entryName}, e.fiscal_year, e.number, l.date, l.amount, NULL
      FROM amounts a CROSS JOIN LATERAL (SELECT l.* FROM entry_line l WHERE l.client_id = current_client() AND l.account = ${on.account}
        AND l.currency = ${on.currency} AND l.date = a.date AND l.amount = a.amount OFFSET 0) l
      JOIN entry e ON e.client_id = l.client_id AND e.fiscal_year = l.fiscal_year AND e.number = l.number
      WHERE e.source IS NOT NULL AND e.document = 'journal'
    ) rows
    ORDER BY made, entered, fiscal_year, number`,
  )
  const byHand = rows.filter(row => !row.made)
  const doubles = findDoubles(
    byHand,
    rows.filter(row => row.made),
  )
  return byHand.map(({ fiscalYear, number, name, date: day, amount }, index) => ({
    name,
    date: day,
    amount,
    ref: { of: 'entry', fiscalYear, number },
    repeats: doubles[index]?.name ?? null,
  }))
}

/** Entries of sources on an account that stand at a date and were taken back after it, by their mirrors. */
export const loadTakenBack = async (
  tx: Transaction,
  on: { account: string; currency: string },
  date: string,
): Promise<NonNullable<ProofInput['takenBack']>> => {
  const rows = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, source: is.text, key: is.text, postedOn: is.text, payout: is.yes },
    sql`
    SELECT e.source, e.key, r.date::text AS date, l.amount, e.date::text AS "postedOn", ${isDocument('movesPayout')} AS payout
    FROM entry r JOIN entry e ON e.client_id = r.client_id AND e.fiscal_year = r.reverses_year AND e.number = r.reverses_number
    JOIN entry_line l ON l.client_id = r.client_id AND l.fiscal_year = r.fiscal_year AND l.number = r.number
    WHERE r.client_id = current_client() AND r.date > ${date} AND e.date <= ${date} AND e.source IS NOT NULL
      AND l.account = ${on.account} AND l.currency = ${on.currency}`,
  )
  return rows.map(row => ({ ...row, ...settlementRef(row) }))
}
