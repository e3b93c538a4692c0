import { type ImportHold, type ImportPage, jobStates, type StatementOutcome } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { found, Refused } from '../access/refused.ts'
import { type Actor, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** A file that came in whole, and what it came to. */
export interface ImportedFile {
  readonly jobId: string
  readonly name: string
  readonly ordinal: number
  /** Of the answer that whoever brought it had; as it was kept. */
  readonly outcome: unknown
}

/** The file that a job brought in. @throws Refused where there is none of that sort, it did not come in, or it was taken back */
export const loadImportedFile = async (
  tx: Transaction,
  of: { readonly jobId: string; readonly sort: 'upload' | 'statement'; readonly subject: string },
): Promise<ImportedFile> => {
  const [job] = await rowsOf(
    tx,
    {
      ...{ jobId: is.text, name: is.text, ordinal: is.whole, outcome: is.anything },
      ...{ state: is.oneOf(...jobStates), takenBack: is.yes },
    },
    sql`SELECT job_id AS "jobId", message AS name, ordinal, outcome, state, taken_back_at IS NOT NULL AS "takenBack" FROM job
      WHERE client_id = current_client() AND job_id = ${of.jobId} AND sort = ${of.sort} AND subject = ${of.subject}`,
  )
  const { state, takenBack, ...file } = found(job, 'file')
  if (state !== 'done') throw new Refused('import_not_in')
  if (takenBack) throw new Refused('import_taken_back')
  return file
}

/** Marks a file as taken back; of two who do it at once the second is told. @throws Refused */
export const markTakenBack = async (tx: Transaction, actor: Actor, jobId: string): Promise<void> => {
  const [job] = await rowsOf(
    tx,
    {},
    sql`UPDATE job SET taken_back_at = clock_now(), taken_back_by = ${actor.userId}
      WHERE client_id = current_client() AND job_id = ${jobId} AND taken_back_at IS NULL RETURNING 1`,
  )
  if (!job) throw new Refused('import_taken_back')
}

/** Names shown of what rests on a file. */
const mostNames = 10

/** What rests on a file for one reason; none where nothing does. */
export const heldBy = (code: ImportHold, names: readonly string[]): ImportPage['holds'] =>
  names.length === 0 ? [] : [{ code, count: names.length, names: names.slice(0, mostNames) }]

/** @throws Refused naming what rests on a file */
export const refuseHeld = ({ holds }: ImportPage): void => {
  if (holds.length > 0) throw new Refused('import_held', { holds: holds.map(({ code, count }) => ({ code, count })) })
}

/** Condition that a job found something known already; of one that runs, what it has found so far. */
const foundKnown = sql.raw(`greatest(same, coalesce((outcome->>'same')::int, 0)) > 0`)

/**
 * Pulls and files of a source that came later and found something known already: it was told twice, and would be lost with the first. Every pull tells
 * settlements and balances anew.
 */
export const laterTold = async (
  tx: Transaction,
  of: { readonly source: string; readonly ordinal: number; readonly sort: ImportPage['sort'] },
): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      { name: is.text },
      sql`SELECT CASE WHEN sort = 'pull' THEN 'pulled' ELSE message END AS name FROM job
        WHERE client_id = current_client() AND subject = ${of.source} AND ordinal > ${of.ordinal} AND taken_back_at IS NULL
          AND ((sort = 'pull' AND (${of.sort !== 'activity'} OR ${foundKnown}))
            OR (sort = 'upload' AND outcome->>'sort' = ${of.sort} AND ${foundKnown})) ORDER BY ordinal`,
    )
  ).map(row => row.name)

/** Files of statements that came in later and cover days of this one, of an account of it, and found lines known: by name. */
export const laterStatements = async (
  tx: Transaction,
  { ordinal, outcome }: { readonly ordinal: number; readonly outcome: StatementOutcome },
): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      { name: is.text },
      sql`SELECT CASE WHEN sort = 'bank_pull' THEN 'pulled from the bank' ELSE message END AS name FROM job
        WHERE client_id = current_client() AND sort IN ('statement', 'bank_pull') AND ordinal > ${ordinal} AND taken_back_at IS NULL AND ${foundKnown}
          AND (outcome->>'from' IS NULL OR (outcome->>'from' <= ${outcome.to} AND outcome->>'to' >= ${outcome.from}))
          AND (outcome->'accounts' IS NULL OR outcome->'accounts' ?| ${sql.param([...outcome.accounts])}::text[]) ORDER BY ordinal`,
    )
  ).map(row => row.name)
