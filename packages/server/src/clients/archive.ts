import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { type Actor, asClient, type Database, oneRow, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { sqlState } from '../database/sqlState.ts'

const nameOf = (tx: Transaction) =>
  oneRow(
    tx,
    { name: is.text, archived: is.yes },
    sql`SELECT name, archived_at IS NOT NULL AS archived FROM client WHERE client_id = current_client() FOR UPDATE`,
  )

/** Lets a client's books only be read from now on, or takes them up again. What stands already stays. */
export const archiveClient = (database: Database, actor: Actor, archived: boolean): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const { name, archived: was } = await nameOf(tx)
      if (was === archived) return
      await tx.execute(
        sql`UPDATE client SET archived_at = ${archived ? sql`clock_now()` : sql`NULL`} WHERE client_id = current_client()`,
      )
      await recordPracticeAct(tx, {
        sort: 'archive_client',
        by: actor.userId,
        subject: 'client',
        key: String(actor.clientId),
        note: name,
        before: { archived: was },
        after: { archived },
      })
    }),
  )

/** Object in use, as the database says where entries stand. */
const inUse = '55006'

/** Removes a client that was taken on by mistake, with all that it has. `name`: typed by whoever does it. @throws Refused where entries stand */
export const removeClient = async (database: Database, actor: Actor, name: string): Promise<void> => {
  try {
    await retrying(() =>
      asClient(database, actor, async tx => {
        const client = await nameOf(tx)
        if (client.name !== name.trim()) throw new Refused('name_differs')
        await recordPracticeAct(tx, {
          sort: 'remove_client',
          by: actor.userId,
          subject: 'client',
          key: String(actor.clientId),
          note: client.name,
          before: { name: client.name },
        })
        await tx.execute(sql`SELECT remove_unposted_client()`)
      }),
    )
  } catch (error) {
    if (sqlState(error) === inUse) throw new Refused('client_has_entries')
    throw error
  }
}
