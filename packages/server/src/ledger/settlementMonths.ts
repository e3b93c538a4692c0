import { type SQL, sql } from 'drizzle-orm'

/**
 * Settlements by each month that they have, or would have, an entry in: `(source, key, currency, state, touched, corrections, gross, first_date, entry_date, month)`.
 * One that its source splits at month's end is in every month from its first line, or from the source's first day here, to its end; a business day is in
 * one. What is booked elsewhere is in none.
 */
export const settlementMonths: SQL = sql`(
  SELECT s.source, s.key, s.currency, s.state, s.touched, s.corrections, s.gross, s.first_date, s.entry_date, to_char(day, 'YYYY-MM') AS month
  FROM settlement s JOIN source f ON f.client_id = s.client_id AND f.source = s.source
  CROSS JOIN LATERAL generate_series(
    date_trunc('month', CASE WHEN f.options->>'splitAtMonthEnd' = 'true' AND s.key NOT LIKE 'day:%'
      THEN least(greatest(s.first_date, (f.options->>'bookedFrom')::date), s.entry_date) ELSE s.entry_date END), s.entry_date, interval '1 month') day
  WHERE s.client_id = current_client() AND s.entry_date IS NOT NULL AND s.state <> 'elsewhere')`
