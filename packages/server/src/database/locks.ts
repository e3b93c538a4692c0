import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from './connect.ts'

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
 * 11. what waits at the stages: `refreshSummary` or `shiftSummary`, always last
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
export const holdSetup = (tx: Transaction): Promise<HeldSetup> =>
  oneRow<HeldSetup>(
    tx,
    sql`SELECT setup_version AS "setupVersion", (SELECT coalesce(max(m.version), 0)::int FROM map_version m WHERE m.client_id = c.client_id)
        AS "mapVersion"
      FROM client c WHERE client_id = current_client() FOR NO KEY UPDATE OF c`,
  )

/** Holds sources against new activity: `to: 'read'` lets others read along, `to: 'store'` is for the one that stores. */
export const holdSources = (
  tx: Transaction,
  sources: readonly string[],
  to: 'read' | 'store',
): Promise<{ source: string; last_pull: number }[]> =>
  rowsOf(
    tx,
    sql`SELECT source, last_pull FROM source WHERE client_id = current_client() AND source = ANY(${sql.param([...new Set(sources)])}::text[])
      ORDER BY source COLLATE "C" ${to === 'read' ? sql`FOR SHARE` : sql`FOR NO KEY UPDATE`}`,
  )

/** The order in which transfers `t` are held. */
export const inTransferOrder = sql.raw('t.source COLLATE "C", t.payout_line COLLATE "C", t.generation')
