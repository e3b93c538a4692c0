import { type SQL, sql } from 'drizzle-orm'

// What decides bookings besides the map, as JSON of the client of the transaction: as it is now, and as a version keeps it.

export const accountsJson: SQL = sql`(SELECT coalesce(json_agg(json_build_object('code', a.code, 'name', a.name, 'type', a.type,
  'currency', a.currency, 'archived', a.archived OR NOT a.takes_postings) ORDER BY a.code), '[]') FROM account a)`

/** `options` of alias `s`. */
export const sourcesJson = (
  options: SQL = sql`s.options`,
): SQL => sql`(SELECT coalesce(json_agg(json_build_object('source', s.source,
  'name', s.name, 'shape', s.shape, 'options', ${options}, 'bankTexts', s.bank_texts) ORDER BY s.source), '[]') FROM source s)`

export const clearingJson: SQL = sql`(SELECT coalesce(json_agg(k), '[]')
  FROM (SELECT source, currency, account FROM source_clearing ORDER BY 1, 2) k)`

export const banksJson: SQL = sql`(SELECT coalesce(json_agg(b), '[]')
  FROM (SELECT source, direction, currency, region, account FROM source_bank ORDER BY 1, 2, 3, 4) b)`

export const factsJson: SQL = sql`(SELECT json_build_object('base', c.base, 'time_zone', c.time_zone, 'cut_off', c.cut_off,
  'exchange_rounding', c.exchange_rounding, 'exchange_difference', c.exchange_difference, 'fiscal_start', c.fiscal_start)
  FROM client c WHERE c.client_id = current_client())`
