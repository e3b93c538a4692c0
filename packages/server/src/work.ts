import { confirmMany, confirmManyCertain } from './bank/confirmMany.ts'
import { pullBank } from './bank/pullBank.ts'
import { uploadKeptStatement } from './bank/uploadStatement.ts'
import { composeAnew } from './composing/composeAnew.ts'
import type { Database, Report } from './database/connect.ts'
import type { Jobs } from './jobs/boss.ts'
import { runJob } from './jobs/runJob.ts'
import { postMany, takeBackMany } from './settlements/manyAtOnce.ts'
import { countAsJob } from './sources/countMany.ts'
import { pullSource } from './sources/pullSource.ts'
import { uploadKept } from './sources/uploadFile.ts'

/** What each sort of job does; pulls, which say themselves how they ended, beside them. */
export const works = {
  upload: uploadKept,
  statement: uploadKeptStatement,
  post: postMany,
  take_back: takeBackMany,
  confirm: confirmMany,
  confirm_certain: confirmManyCertain,
  compose: composeAnew,
  count: countAsJob,
}

/** Serves all queues in this process. */
export const serveQueues = async (jobs: Jobs, database: Database, report: Report): Promise<void> => {
  await jobs.serve('pull_source', data => pullSource(database, data))
  await jobs.serve('pull_bank', data => pullBank(database, data))
  await jobs.serve('read_file', data => runJob(database, data, works, report))
  await jobs.serve('act', data => runJob(database, data, works, report))
}
