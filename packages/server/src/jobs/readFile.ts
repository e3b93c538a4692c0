import { addAbortSignal, Readable } from 'node:stream'
import { type JobSort, subjectKey } from '@culvert/contract'
import type { Request } from 'express'
import { refusalOf } from '../access/fileRefused.ts'
import { inTurn, receiveFile } from '../access/receiveFile.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import type { Jobs } from './boss.ts'
import { holdJob } from './deadJobs.ts'
import { beginJob, endJob, noteProgress, noteRefusal } from './jobLog.ts'
import { keepFile, readKept } from './keptFile.ts'
import type { Running } from './runJob.ts'
import { startJob } from './startJob.ts'

/** A file that comes in: of which source or account, and its name. */
export interface NamedFile {
  readonly sort: Extract<JobSort, 'upload' | 'statement'>
  readonly subject: string
  readonly name: string
  /** What was said of it beside. */
  readonly told?: Readonly<Record<string, unknown>>
}

/** Reads a file into the database, whole or not at all. */
export type ReadFile<Outcome> = (tx: Transaction, body: Readable) => Promise<Outcome>

/** Bytes up to which a file is read while whoever sent it waits; a larger one is a job. */
const mostAtOnce = 2_000_000

/** Receives a file and reads it at once, or keeps it for a job where it is large. */
export const fileOrJob = async <Outcome>(
  of: { readonly database: Database; readonly jobs: Jobs; readonly actor: Actor; readonly request: Request },
  { sort, subject, name, told = {} }: NamedFile,
  atOnce: (body: Readable) => Promise<Outcome>,
): Promise<Outcome | { job: string }> => {
  const { database, jobs, actor } = of
  const file = await receiveFile(of.request)
  try {
    return await inTurn(async () => {
      if (file.bytes <= mostAtOnce) return atOnce(file.open())
      const job = await asClient(database, actor, async tx => {
        const jobId = await startJob(tx, jobs, actor, { sort, subject, message: name, asked: told, total: file.bytes })
        await keepFile(tx, jobId, file.open())
        return jobId
      })
      return { job }
    })
  } finally {
    await file.dispose()
  }
}

/** Writes down who brought a file in: to its source, or where statements tell themselves of which accounts they are, to the client. */
const recordBrought = (
  tx: Transaction,
  actor: Actor,
  { sort, subject, name }: { readonly sort: JobSort; readonly subject: string; readonly name: string },
): Promise<string> =>
  recordAct(tx, actor, {
    sort: 'bring',
    note: name,
    touched: [
      sort === 'upload'
        ? { subject: 'source', key: subjectKey(subject), after: { file: name } }
        : { subject: 'client', key: String(actor.clientId), after: { statement: name } },
    ],
  })

/** Reads a file at once: its entry stands in the log before anything is read, so that what is killed in the midst of it can be told from what still runs. */
export const readAtOnce = async <Outcome>(
  database: Database,
  actor: Actor,
  { sort, subject, name }: NamedFile,
  work: (tx: Transaction, jobId: string) => Promise<Outcome>,
): Promise<Outcome> => {
  const jobId = await asClient(database, actor, tx => beginJob(tx, actor, 'running', { sort, subject, message: name }))
  try {
    return await asClient(database, actor, async tx => {
      await holdJob(tx, jobId)
      const outcome = await work(tx, jobId)
      await endJob(tx, jobId, { state: 'done', outcome })
      await recordBrought(tx, actor, { sort, subject, name })
      await markStages(tx, ['sources'])
      return outcome
    })
  } catch (caught) {
    const error = refusalOf(caught) ?? caught
    await noteRefusal(database, actor, { jobId, name, error })
    throw error
  }
}

/** Reads the file that is kept for a job. One that was read before the job was broken off has its outcome, and is not read again. */
export const readAsJob = async <Outcome>(
  database: Database,
  actor: Actor,
  job: Running,
  of: { readonly work: ReadFile<Outcome>; readonly read: (kept: unknown) => Outcome },
): Promise<Outcome> => {
  if (job.outcome !== null) return of.read(job.outcome)
  const { progress } = job
  const counted = async function* () {
    for await (const chunk of readKept(database, actor, job.jobId) as AsyncIterable<Buffer>) {
      progress.done += chunk.length
      yield chunk
    }
  }
  progress.done = 0
  const body = addAbortSignal(job.signal, Readable.from(counted(), { objectMode: false }))
  try {
    return await asClient(database, actor, async tx => {
      const outcome = await of.work(tx, body)
      await noteProgress(tx, job.jobId, { done: progress.done, total: progress.done, outcome })
      await recordBrought(tx, actor, { sort: job.sort, subject: job.subject, name: job.message })
      await markStages(tx, ['sources'])
      return outcome
    })
  } catch (caught) {
    throw refusalOf(caught) ?? caught
  }
}
