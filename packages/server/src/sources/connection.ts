import { type Connection, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { found, Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { endHere, tellEnded } from '../grants/endGrant.ts'
import { loadGrant } from '../grants/grantRows.ts'

/** By what a source is connected, and what would end with it. @throws Refused where there is none */
export const loadConnection = async (tx: Transaction, source: string): Promise<Connection> => {
  const [row] = await rowsOf(
    tx,
    {
      grantId: is.maybe(is.text),
      shop: is.maybe(is.text),
      pulledTo: is.maybe(is.text),
      lines: is.whole,
      posted: is.whole,
      open: is.whole,
      alsoServes: is.list(is.text),
    },
    sql`SELECT s.grant_id AS "grantId", s.shop, s.pulled_to AS "pulledTo",
      (SELECT coalesce(sum(k.lines), 0)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS lines,
      (SELECT count(*)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source AND k.state = 'posted') AS posted,
      (SELECT count(*)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source AND k.state IN ('proposed', 'blocked')) AS open,
      (SELECT coalesce(json_agg(o.name ORDER BY o.name), '[]') FROM source o
        WHERE o.client_id = s.client_id AND o.grant_id = s.grant_id AND o.source <> s.source) AS "alsoServes"
    FROM source s WHERE s.client_id = current_client() AND s.source = ${source}`,
  )
  const { grantId, ...facts } = found(row, 'source')
  return { ...facts, grant: grantId === null ? null : await loadGrant(tx, grantId) }
}

/** Ends a source's connection: what it brought stays, and more comes as files. The service is told where nothing else is pulled by the grant. @throws Refused */
export const disconnect = async (database: Database, actor: Actor, source: string): Promise<boolean> =>
  tellEnded(
    await retrying(() =>
      asClient(database, actor, async tx => {
        await tx.execute(
          sql`SELECT FROM source WHERE client_id = current_client() AND source = ${source} FOR NO KEY UPDATE`,
        )
        const { grant, shop, alsoServes } = await loadConnection(tx, source)
        if (!grant) throw new Refused('not_connected')
        await tx.execute(
          sql`UPDATE source SET grant_id = NULL, shop = NULL WHERE client_id = current_client() AND source = ${source}`,
        )
        const ended = alsoServes.length > 0 ? null : await endHere(tx, actor, grant.grantId)
        await recordAct(tx, actor, {
          sort: 'disconnect',
          note: grant.name,
          touched: [
            { subject: 'source', key: subjectKey(source), before: { shop }, after: { shop: null } },
            { subject: 'grant', key: grant.grantId },
          ],
        })
        await markStages(tx, ['sources'])
        return ended
      }),
    ),
  )
