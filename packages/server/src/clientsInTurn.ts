import { sql } from 'drizzle-orm'
import { asClient, asPerson, type Database, oneRow, type Transaction } from './database/connect.ts'
import { is } from './database/rows.ts'

/** Runs `work` for each client there is or was, one after another, each in a transaction of its own; as the database's owner, whom membership does not bind. */
export const clientsInTurn = async (
  database: Database,
  work: (tx: Transaction, clientId: number) => Promise<void>,
): Promise<void> => {
  const { last } = await asPerson(database, 0, tx =>
    oneRow(
      tx,
      { last: is.whole },
      sql`SELECT CASE WHEN is_called THEN last_value ELSE 0 END::int AS last FROM client_client_id_seq`,
    ),
  )
  for (let clientId = 1; clientId <= last; clientId++)
    await asClient(database, { userId: 0, clientId }, tx => work(tx, clientId))
}
