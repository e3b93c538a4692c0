import { pullBank } from './bank/pullBank.ts'
import type { Database } from './database/connect.ts'
import type { Jobs } from './jobs/boss.ts'
import { pullSource } from './sources/pullSource.ts'

/** Serves all queues in this process. */
export const serveQueues = async (jobs: Jobs, database: Database): Promise<void> => {
  await jobs.serve('pull_source', data => pullSource(database, data, data))
  await jobs.serve('pull_bank', data => pullBank(database, data, data))
}
