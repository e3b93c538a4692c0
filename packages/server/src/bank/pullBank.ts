import { type BankLine, bankColumns, FaultList, readBankRow, readColumns } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { refuseOn } from '../access/fileRefused.ts'
import { type Actor, asClient, type Database, oneRow } from '../database/connect.ts'
import { isUnreachable } from '../database/reachable.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { outsideService, ServiceUnreachable } from '../grants/outsideService.ts'
import type { JobData } from '../jobs/boss.ts'
import { endJob, JobCancelled, takeUpJob, tellProgress, untilCancelled } from '../jobs/jobLog.ts'
import { loadGrant } from './bankGrant.ts'
import { importBankLines, noteReach } from './importBankLines.ts'

const pageSchema = z.object({
  lines: z.array(z.record(z.string(), z.union([z.string(), z.number()]).transform(String))).max(10_000),
  next: z.string().nullable(),
})

const mostIdlePages = 20
/** Lines taken in by one pull; more come with the next. */
const mostLines = 200_000

/** Brings new lines of a bank account over from the bank that granted it. Lines that are there already are left alone. */
export const pullBank = async (database: Database, data: JobData): Promise<void> => {
  const { jobId, ...actor } = data
  const taken = await takeUpJob(database, actor, jobId)
  if (!taken) return
  try {
    await untilCancelled(database, actor, { jobId }, signal =>
      pull(database, actor, { jobId, account: taken.subject, signal }),
    )
  } catch (error) {
    if (isUnreachable(error)) throw error
    const cancelled = error instanceof JobCancelled
    await asClient(database, actor, tx =>
      endJob(tx, jobId, {
        state: cancelled ? 'cancelled' : 'failed',
        message: cancelled ? '' : error instanceof Error ? error.message : 'failed',
      }),
    )
  }
}

const pull = async (
  database: Database,
  actor: Actor,
  job: { readonly jobId: string; readonly account: string; readonly signal: AbortSignal },
): Promise<void> => {
  const { account } = await asClient(database, actor, async tx => ({
    account: await oneRow(
      tx,
      { code: is.text, bank_number: is.maybe(is.text), latest: is.maybe(is.text), today: is.text },
      sql`
      SELECT a.code, a.bank_number, (SELECT max(date)::text FROM bank_line b WHERE b.client_id = a.client_id AND b.bank_account = a.code) AS latest,
        (clock_now() AT TIME ZONE c.time_zone)::date::text AS today
      FROM account a JOIN client c ON c.client_id = a.client_id WHERE a.client_id = current_client() AND a.code = ${job.account}`,
    ),
  }))
  const grant = await asClient(database, actor, tx =>
    loadGrant(database, tx, actor, { code: account.code, number: account.bank_number ?? account.code }),
  )
  if (grant === null)
    throw new ServiceUnreachable(
      'No bank has granted this client access to the account; a grant that was shared by all clients has ended. Bring in statements as files, or connect the account anew with a key that the bank gives for this client.',
    )
  const { get } = outsideService({
    name: 'the bank',
    address: grant.address,
    access: grant.access,
    signal: job.signal,
  })
  const lines = await fetchLines(get, account, done => tellProgress(database, actor, job.jobId, { done, total: null }))
  await retrying(() =>
    asClient(database, actor, async tx => {
      const outcome = await importBankLines(tx, lines, { pullId: job.jobId, faults: new FaultList(), format: 'pull' })
      await noteReach(tx, account.code, account.today)
      await endJob(tx, job.jobId, { state: 'done', message: '', outcome: { added: outcome.added, same: outcome.same } })
    }),
  )
}

const fetchLines = async (
  get: (path: string) => Promise<unknown>,
  account: { code: string; latest: string | null },
  note: (done: number) => Promise<void>,
): Promise<BankLine[]> => {
  const lines: BankLine[] = []
  const faults = new FaultList()
  const from = account.latest === null ? '' : `&from=${account.latest}`
  let next: string | null = ''
  let idle = 0
  while (next !== null && lines.length < mostLines) {
    const page: z.infer<typeof pageSchema> = pageSchema.parse(
      await get(`/lines?after=${encodeURIComponent(next)}${from}`),
    )
    idle = page.lines.length === 0 || page.next === next ? idle + 1 : 0
    if (idle >= mostIdlePages) throw new ServiceUnreachable('the bank sends page after page with nothing new')
    const columns = readColumns([...bankColumns.known], bankColumns, faults)
    page.lines.forEach((fields, index) => {
      const line = readBankRow(
        bankColumns.known.map(name => fields[name] ?? ''),
        { columns, row: index + 1, faults },
      )
      if (line) lines.push({ ...line, bankAccount: account.code })
    })
    refuseOn(faults)
    await note(lines.length)
    next = page.next
  }
  return lines
}
