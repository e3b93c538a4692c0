import { sql } from 'drizzle-orm'
import { found } from '../access/refused.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from '../jobs/boss.ts'
import { joinPull } from '../jobs/joinPull.ts'
import type { Puller } from '../jobs/pullers.ts'

/** Begins to pull a bank account, or joins a pull that is under way; its job. @throws Refused where there is none */
export const startPull = (database: Database, jobs: Jobs, actor: Actor, account: string): Promise<string> =>
  asClient(database, actor, async tx => {
    const [row] = await rowsOf(
      tx,
      {},
      sql`SELECT FROM account WHERE client_id = current_client() AND code = ${account} AND type IN ('bank', 'card') FOR NO KEY UPDATE`,
    )
    found(row, 'bank account')
    return joinPull(tx, jobs, actor, { sort: 'bank_pull', subject: account, touches: 'account' })
  })

/** The bank accounts of a client that a bank granted access to. */
export const pullBanks: Puller = {
  of: (database, actor) =>
    asClient(database, actor, tx =>
      rowsOf(
        tx,
        { key: is.text, name: is.text },
        sql`SELECT g.bank_account AS key, a.name FROM bank_grant g JOIN account a ON a.client_id = g.client_id AND a.code = g.bank_account
          WHERE g.client_id = current_client() ORDER BY 1`,
      ),
    ),
  start: startPull,
}
