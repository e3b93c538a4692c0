import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { asPerson, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from '../jobs/boss.ts'
import type { Pullers } from '../jobs/pullers.ts'

/** Begins to pull all that is connected, of every client that the person may bring in for; what is under way is joined. What is refused does not keep the rest. */
export const pullAll = async (
  database: Database,
  jobs: Jobs,
  pullers: Pullers,
  { userId, clients: narrowed }: { readonly userId: number; readonly clients: ReadonlySet<number> | null },
) => {
  const clients = await asPerson(database, userId, tx =>
    rowsOf(
      tx,
      { clientId: is.whole, name: is.text },
      sql`SELECT c.client_id AS "clientId", c.name FROM membership m JOIN client c USING (client_id)
        WHERE m.user_id = current_person() AND role_may(m.role, 'bring') AND c.archived_at IS NULL ORDER BY c.name`,
    ),
  )
  const refused: { client: string; what: string; why: string }[] = []
  let pulls = 0
  const of = clients.filter(client => narrowed?.has(client.clientId) !== false)
  for (const { clientId, name: client } of of)
    for (const puller of pullers)
      for (const { key, name } of await puller.of(database, { userId, clientId }))
        try {
          await puller.start(database, jobs, { userId, clientId }, key)
          pulls++
        } catch (error) {
          if (!(error instanceof Refused)) throw error
          refused.push({ client, what: name, why: error.message })
        }
  return { clients: of.length, pulls, refused }
}
