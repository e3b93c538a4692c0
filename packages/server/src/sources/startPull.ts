import { sql } from 'drizzle-orm'
import { found, Refused } from '../access/refused.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from '../jobs/boss.ts'
import { joinPull } from '../jobs/joinPull.ts'
import type { Puller } from '../jobs/pullers.ts'

/** Begins to pull a source, or joins a pull that is under way; its job. @throws Refused where it is not connected, or not any more */
export const startPull = (database: Database, jobs: Jobs, actor: Actor, source: string): Promise<string> =>
  asClient(database, actor, async tx => {
    const [row] = await rowsOf(
      tx,
      { connected: is.yes, name: is.text, ended: is.yes },
      sql`
      SELECT s.address IS NOT NULL OR s.grant_id IS NOT NULL AS connected, s.name, g.ended IS NOT NULL AS ended FROM source s
      LEFT JOIN service_grant g USING (client_id, grant_id)
      WHERE s.client_id = current_client() AND s.source = ${source} FOR NO KEY UPDATE OF s`,
    )
    const { connected, name, ended } = found(row, 'source')
    if (!connected) throw new Refused('not_connected')
    if (ended) throw new Refused('grant_ended', { name })
    return joinPull(tx, jobs, actor, { sort: 'pull', subject: source, touches: 'source' })
  })

/** The sources of a client that are connected. */
export const pullSources: Puller = {
  of: (database, actor) =>
    asClient(database, actor, tx =>
      rowsOf(
        tx,
        { key: is.text, name: is.text },
        sql`SELECT source AS key, name FROM source WHERE client_id = current_client() AND (address IS NOT NULL OR grant_id IS NOT NULL) ORDER BY 1`,
      ),
    ),
  start: startPull,
}
