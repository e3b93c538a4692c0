import type { JobSort } from '@culvert/contract'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import type { QueueName } from '../database/queues.ts'
import type { Jobs } from './boss.ts'
import { beginJob } from './jobLog.ts'

const queueOf: Readonly<Record<JobSort, QueueName>> = {
  pull: 'pull_source',
  bank_pull: 'pull_bank',
  upload: 'read_file',
  statement: 'read_file',
  post: 'act',
  take_back: 'act',
  confirm: 'act',
  confirm_certain: 'act',
  compose: 'act',
  count: 'act',
}

/** Enters a job in the log and its queue, in the caller's transaction. Returns its id. */
export const startJob = async (
  tx: Transaction,
  jobs: Jobs,
  actor: Actor,
  job: Parameters<typeof beginJob>[3],
): Promise<string> => {
  const jobId = await beginJob(tx, actor, 'waiting', job)
  await jobs.enqueue(tx, queueOf[job.sort], { userId: actor.userId, clientId: actor.clientId, jobId })
  return jobId
}

/** What is small is done at once and answered with its outcome; what is not goes on as a job. */
export const atOnceOrJob = async <Outcome>(
  database: Database,
  jobs: Jobs,
  actor: Actor,
  what: {
    readonly small: boolean
    readonly act: () => Promise<Outcome>
    readonly job: Parameters<typeof beginJob>[3]
  },
): Promise<Outcome | { job: string }> =>
  what.small ? what.act() : { job: await asClient(database, actor, tx => startJob(tx, jobs, actor, what.job)) }
