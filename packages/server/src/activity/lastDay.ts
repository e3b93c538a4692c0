import { type SQL, sql } from 'drizzle-orm'

// From the last day back by the index, not by a maximum: lines that were taken back with their file stand no more, and are few.
/** Local date of the last line that stands of a source, given as SQL; no row where there is none. */
export const lastDayOf = (source: SQL): SQL =>
  sql`SELECT d.local_date AS latest FROM line_as_of d WHERE d.client_id = current_client() AND d.source = ${source} AND d.stands
    ORDER BY d.local_date DESC LIMIT 1`
