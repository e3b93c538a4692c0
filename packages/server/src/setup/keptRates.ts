import type { ExchangeRate } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { PoolClient } from 'pg'
import { oneRow, rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

interface Kept {
  /** Of the client's row as it was then. */
  readonly written: string
  readonly rates: readonly ExchangeRate[]
}

/** Clients whose rates a connection keeps. */
const mostClients = 8

// Years of daily rates took longer to read than all else that a page asks. Saving a rate counts up the setup's version in the client's row: what was read
// is right for as long as that row was written by the same transaction (a version alone could be rolled back, and come again). Kept by connection, so that
// nothing of one database is ever taken for another's.
const kept = new WeakMap<PoolClient, Map<number, Kept>>()

/** The client's exchange rates, read anew only after one was saved. */
export const loadKeptRates = async (
  tx: Transaction,
  client: { readonly clientId: number; readonly written: string },
): Promise<readonly ExchangeRate[]> => {
  const mine = kept.get(tx.$client) ?? new Map<number, Kept>()
  kept.set(tx.$client, mine)
  const known = mine.get(client.clientId)
  if (known?.written === client.written) return known.rates
  // In one statement, so that the rates are those of the row beside them.
  const [fresh] = await rowsOfPrepared(
    tx,
    { written: is.text, rates: is.list(is.record({ date: is.date, from: is.text, to: is.text, rate: is.text })) },
    sql`SELECT c.xmin::text AS written, (SELECT coalesce(json_agg(json_build_object('date', r.date, 'from', r."from", 'to', r."to",
      'rate', r.rate::text)), '[]') FROM exchange_rate r WHERE r.client_id = c.client_id) AS rates
      FROM client c WHERE c.client_id = current_client()`,
  )
  if (!fresh) throw new Error('no client is set on this transaction')
  mine.delete(client.clientId)
  mine.set(client.clientId, fresh)
  const [oldest] = mine.keys()
  if (mine.size > mostClients && oldest !== undefined) mine.delete(oldest)
  return fresh.rates
}

/** The same, for whoever has not read the client's setup. */
export const loadRatesOfClient = async (
  tx: Transaction,
): Promise<{ readonly base: string; readonly rates: readonly ExchangeRate[] }> => {
  const { base, ...client } = await oneRow(
    tx,
    { base: is.text, clientId: is.whole, written: is.text },
    sql`SELECT base, client_id AS "clientId", xmin::text AS written FROM client WHERE client_id = current_client()`,
  )
  return { base, rates: await loadKeptRates(tx, client) }
}
