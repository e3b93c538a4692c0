import type { Readable } from 'node:stream'
import { type StatementOutcome, statementOutcome } from '@culvert/contract'
import { FaultList, type StatementHead, type StatementReach } from '@culvert/core'
import { z } from 'zod'
import { refuseOn } from '../access/fileRefused.ts'
import type { Actor, Database, Transaction } from '../database/connect.ts'
import { loadSaved } from '../files/columns.ts'
import { tableTold } from '../files/tableReader.ts'
import { readAsJob, readAtOnce } from '../jobs/readFile.ts'
import type { JobWork } from '../jobs/runJob.ts'
import { noteReach, storeStaged } from './importBankLines.ts'
import { readStatement } from './readStatement.ts'
import { openBankStage } from './stageBankLines.ts'
import { accountNamed, storeStatements, tieNumber } from './statements.ts'

interface Statement {
  readonly name: string
  readonly body: Readable
  readonly told?: StatementTold
}

/** What is said of a statement beside: of which account it is, where its columns do not say it. */
const statementTold = tableTold.extend({
  account: z.string().nullish(),
  /** The bank's own number of `account`, where the statement names it and no account has it yet: kept once the statement is in. */
  number: z.string().nullish(),
})
export type StatementTold = z.infer<typeof statementTold>

/** Brings in a bank statement of any format that is read, whole or not at all. @throws FileRefused with every fault found. */
export const uploadStatement = (
  database: Database,
  actor: Actor,
  { name, body, told = {} }: Statement,
): Promise<StatementOutcome> =>
  readAtOnce(database, actor, { sort: 'statement', subject: 'bank', name }, (tx, jobId) =>
    storeStatement(tx, actor, { body, told, jobId }),
  )

/** The same of a statement that is kept for a job. */
export const uploadKeptStatement: JobWork = (database, actor, job) =>
  readAsJob(database, actor, job, {
    work: (tx, body) =>
      storeStatement(tx, actor, { body, told: statementTold.parse(job.asked ?? {}), jobId: job.jobId }),
    read: kept => statementOutcome.parse(kept),
  })

const storeStatement = async (
  tx: Transaction,
  actor: Actor,
  { body, told, jobId }: { readonly body: Readable; readonly told: StatementTold; readonly jobId: string },
): Promise<StatementOutcome> => {
  const faults = new FaultList()
  // Refused with the statement, the number goes as well: only what has come in ties an account to it.
  if (told.number && told.account) await tieNumber(tx, actor, { account: told.account, number: told.number })
  const stage = openBankStage(tx)
  const heads: StatementHead[] = []
  const { format, reaches } = await readStatement(
    body,
    {
      faults,
      line: (line, row) => (faults.count === 0 ? stage.add(line, row) : undefined),
      statement: head => {
        heads.push(head)
      },
      correction: (correction, row) => stage.correct(correction, row),
      choiceOf: header => choiceOf(tx, header, told.number ? null : (told.account ?? null)),
    },
    told,
  )
  refuseOn(faults)
  const outcome = await storeStaged(tx, stage, { pullId: jobId, faults, format })
  await storeStatements(tx, heads, { pullId: jobId, format })
  await noteReaches(tx, [...reaches, ...heads.filter(head => head.closing !== null)])
  return outcome
}

// Said of the account that it is brought to; else of any: a statement names its account itself, or it would not have been read before.
const choiceOf = async (tx: Transaction, header: readonly string[], account: string | null) => {
  const saved = await loadSaved(tx, account === null ? null : { subject: 'account', key: account }, header)
  if (saved?.of !== 'bank') return null
  return account === null ? saved.choice : { ...saved.choice, account }
}

const noteReaches = async (tx: Transaction, reaches: readonly StatementReach[]): Promise<void> => {
  for (const { bankAccount, to } of reaches) {
    const account = await accountNamed(tx, bankAccount)
    if (account !== null) await noteReach(tx, account, to)
  }
}
