import { sql } from 'drizzle-orm'
import { recordAct } from '../books/recordAct.ts'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { recompose } from './recompose.ts'
import { keyRows, type SettlementKey } from './settlementKey.ts'

/** Leaves settlements that are not posted out on purpose, with a reason. Returns how many it were. */
export const setAside = (
  database: Database,
  actor: Actor,
  keys: readonly SettlementKey[],
  reason: string,
): Promise<number> =>
  asClient(database, actor, async tx => {
    const changed = await rowsOf(
      tx,
      sql`
      UPDATE settlement s SET state = 'set_aside', set_aside_reason = ${reason} FROM ${keyRows(keys)}
      WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency
        AND s.state IN ('blocked', 'proposed') RETURNING s.key`,
    )
    await recordAct(tx, actor, { sort: 'set_aside', note: reason })
    await refreshSummary(tx, ['settlements', 'mapping', 'clearing'])
    return changed.length
  })

/** Says that settlements are no doubles of what is in the ledger, though they look like it: they may be posted. */
export const sayNoDouble = (database: Database, actor: Actor, keys: readonly SettlementKey[]): Promise<number> =>
  asClient(database, actor, async tx => {
    const changed = await rowsOf(
      tx,
      sql`
      UPDATE settlement s SET not_double = true FROM ${keyRows(keys)}
      WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency
        AND s.state IN ('blocked', 'proposed') RETURNING s.key`,
    )
    await recompose(tx, keys)
    await recordAct(tx, actor, { sort: 'no_double' })
    await refreshSummary(tx, ['settlements', 'mapping', 'clearing'])
    return changed.length
  })

/** Takes settlements that were set aside up again: they are proposed or blocked as their lines say. */
export const takeUp = (database: Database, actor: Actor, keys: readonly SettlementKey[]): Promise<number> =>
  asClient(database, actor, async tx => {
    const changed = await rowsOf(
      tx,
      sql`
      UPDATE settlement s SET state = 'blocked', set_aside_reason = NULL FROM ${keyRows(keys)}
      WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency
        AND s.state = 'set_aside' RETURNING s.key`,
    )
    await recompose(tx, keys)
    await recordAct(tx, actor, { sort: 'take_up' })
    await refreshSummary(tx, ['settlements', 'mapping', 'clearing'])
    return changed.length
  })
