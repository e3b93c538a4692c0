import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from './connect.ts'
import { is } from './rows.ts'

/*
 * The order in which every writing transaction takes its locks, so that no two wait for each other in a circle. Each leaves out what it does not need:
 *
 * 1. client: `holdSetup`, only by those who change what decides bookings, so that the version counter moves one at a time
 * 2. number counters, by fiscal year: `takeNumbers`
 * 3. sources, by key: `holdSources`
 * 4. months: `holdMonths`
 * 5. settlements, by source, key and currency: `holdSettlements`
 * 6. transfers, by source, payout line and generation
 * 7. bank lines, by id, and what was decided about them
 * 8. matches of tenders and collections
 * 9. account totals, by key
 * 10. acts
 * 11. what waits at the stages: `markStages` or `shiftSummary`, always last
 *
 * Composing and pairing happen before; what they rest on (state, generation, version) is looked at again under the locks, and done anew
 * where it has moved. Every writing transaction runs under `retrying`.
 */
/** Versions of what decides a client's bookings: the counter of all saves, and the last map. */
export interface HeldSetup {
  readonly setupVersion: number
  readonly mapVersion: number
}

/** Holds the client's setup, so that nobody else changes it until the transaction ends. Foreign keys to the client do not wait for it. */
export const holdSetup = async (tx: Transaction): Promise<HeldSetup> => {
  const { setupVersion } = await oneRow(
    tx,
    { setupVersion: is.whole },
    sql`SELECT setup_version AS "setupVersion" FROM client WHERE client_id = current_client() FOR NO KEY UPDATE`,
  )
  // Asked apart: one who had to wait for the row would see the other tables as they were before.
  const { mapVersion } = await oneRow(
    tx,
    { mapVersion: is.whole },
    sql`SELECT coalesce(max(version), 0)::int AS "mapVersion" FROM map_version WHERE client_id = current_client()`,
  )
  return { setupVersion, mapVersion }
}

/** Holds sources against new activity: `to: 'read'` lets others read along, `to: 'store'` is for the one that stores. */
export const holdSources = (
  tx: Transaction,
  sources: readonly string[],
  to: 'read' | 'store',
): Promise<{ source: string; last_pull: number }[]> =>
  rowsOf(
    tx,
    { source: is.text, last_pull: is.whole },
    sql`SELECT source, last_pull FROM source WHERE client_id = current_client() AND source = ANY(${sql.param([...new Set(sources)])}::text[])
      ORDER BY source COLLATE "C" ${to === 'read' ? sql`FOR SHARE` : sql`FOR NO KEY UPDATE`}`,
  )

/** The order in which transfers `t` are held. */
export const inTransferOrder = sql.raw('t.source COLLATE "C", t.payout_line COLLATE "C", t.generation')

/**
 * Holds what is told of bank accounts: statements come in, and are taken back, one after another, since lines that are left out as known rest on those that are
 * there. Taken before anything else.
 */
export const holdStatements = (tx: Transaction) =>
  tx.execute(sql`SELECT pg_advisory_xact_lock(hashtext('statements'), current_client())`)
