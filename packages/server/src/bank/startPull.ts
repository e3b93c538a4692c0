import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { found } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import type { Puller } from '../course/pullers.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from '../jobs/boss.ts'
import { endDeadJobs } from '../jobs/deadJobs.ts'
import { startJob } from '../jobs/startJob.ts'

/** Begins to pull a bank account, or joins a pull that is under way; its job. @throws Refused where there is none */
export const startPull = (database: Database, jobs: Jobs, actor: Actor, account: string): Promise<string> =>
  asClient(database, actor, async tx => {
    const [row] = await rowsOf(
      tx,
      {},
      sql`SELECT FROM account WHERE client_id = current_client() AND code = ${account} AND type IN ('bank', 'card') FOR NO KEY UPDATE`,
    )
    found(row, 'bank account')
    await endDeadJobs(tx)
    const [running] = await rowsOf(
      tx,
      { id: is.text },
      sql`SELECT job_id AS id FROM job WHERE client_id = current_client()
        AND subject = ${account} AND sort = 'bank_pull' AND state IN ('waiting', 'running', 'cancelling')`,
    )
    if (running) return running.id
    await recordAct(tx, actor, {
      sort: 'bring',
      note: 'pull',
      touched: [{ subject: 'account', key: subjectKey(account) }],
    })
    return startJob(tx, jobs, actor, { sort: 'bank_pull', subject: account })
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
