import { type SQL, sql } from 'drizzle-orm'

/**
 * In which money an account's lines may be added up: bank, card and clearing accounts are bound to their currency; any other takes
 * lines of any currency, which only their base amounts add up.
 */
export const isBound = (account: SQL): SQL => sql`${account}.type IN ('bank', 'card', 'clearing')`

/** Currency of an account's sums. */
export const sumCurrency = (account: SQL): SQL =>
  sql`CASE WHEN ${isBound(account)} THEN ${account}.currency ELSE (SELECT base FROM client WHERE client_id = current_client()) END`

/** An entry line's amount in the money of its account's sums, minor units. */
export const sumAmount = (account: SQL, line: SQL): SQL =>
  sql`CASE WHEN ${isBound(account)} THEN ${line}.amount ELSE ${line}.base_amount END`
