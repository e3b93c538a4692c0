import type { Readable } from 'node:stream'
import { type StatementOutcome, statementOutcome } from '@culvert/contract'
import { FaultList, type StatementReach } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { type Actor, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { readAsJob, readAtOnce } from '../jobs/readFile.ts'
import type { JobWork } from '../jobs/runJob.ts'
import { noteReach, storeStaged } from './importBankLines.ts'
import { readStatement } from './readStatement.ts'
import { openBankStage } from './stageBankLines.ts'

/** Brings in a bank statement, camt.053 or CSV, whole or not at all. @throws FileRefused with every fault found. */
export const uploadStatement = (
  database: Database,
  actor: Actor,
  { name, body }: { readonly name: string; readonly body: Readable },
): Promise<StatementOutcome> =>
  readAtOnce(database, actor, { sort: 'statement', subject: 'bank', name }, (tx, jobId) =>
    storeStatement(tx, body, jobId),
  )

/** The same of a statement that is kept for a job. */
export const uploadKeptStatement: JobWork = (database, actor, job) =>
  readAsJob(database, actor, job, {
    work: (tx, body) => storeStatement(tx, body, job.jobId),
    read: kept => statementOutcome.parse(kept),
  })

const storeStatement = async (tx: Transaction, body: Readable, jobId: string): Promise<StatementOutcome> => {
  const faults = new FaultList()
  const stage = openBankStage(tx)
  const reaches = await readStatement(body, faults, (line, row) =>
    faults.count === 0 ? stage.add(line, row) : undefined,
  )
  refuseOn(faults)
  const outcome = await storeStaged(tx, stage, { pullId: jobId, faults })
  await noteReaches(tx, reaches)
  return outcome
}

const noteReaches = async (tx: Transaction, reaches: readonly StatementReach[]): Promise<void> => {
  for (const { bankAccount, to } of reaches) {
    const [account] = await rowsOf(
      tx,
      { code: is.text },
      sql`SELECT code FROM account WHERE client_id = current_client() AND (code = ${bankAccount} OR bank_number = ${bankAccount})
        ORDER BY code <> ${bankAccount} LIMIT 1`,
    )
    if (account) await noteReach(tx, account.code, to)
  }
}
