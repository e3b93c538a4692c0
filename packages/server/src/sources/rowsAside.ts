import type { AsideRow } from '@culvert/contract'
import { subjectKey } from '@culvert/contract'
import { type ColumnChoice, type FileFault, isoTime, zoneOf } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { found } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'

// Rows of a file that cannot be read and are left out on purpose: kept, counted, and named in the proof until somebody says that they move nothing.

type Why = AsideRow['why']

/** A row that was set aside while its file was read. */
export interface SetAside {
  readonly row: number
  readonly why: Why
  readonly fault: Pick<FileFault, 'column' | 'code'>
  readonly fields: Readonly<Record<string, string>>
  readonly day: string | null
}

/** What somebody said of rows of a file: `17:nothing,23:unread`. */
export const asideOf = (said: string | null | undefined): ReadonlyMap<number, Why> =>
  new Map(
    (said ?? '')
      .split(',')
      .filter(one => one !== '')
      .map(one => {
        const [row, why] = one.split(':')
        return [Number(row), why === 'nothing' ? 'nothing' : 'unread'] as const
      }),
  )

/** What tells of people is not kept beside the lines, whose personal data can be erased. */
const ofPeople: ReadonlySet<string> = new Set(['customer', 'email', 'ship_to', 'description'])

/** The fields of a record that are kept, and its day where that can be read. `meanings`: of the columns, by their names. */
export const fieldsOf = (
  header: readonly string[],
  record: readonly string[],
  of: { readonly meanings: ReadonlyMap<string, string>; readonly dates: ColumnChoice['dates'] },
): Pick<SetAside, 'fields' | 'day'> => {
  const fields: Record<string, string> = {}
  let day: string | null = null
  header.forEach((raw, at) => {
    const name = raw.trim()
    const meaning = of.meanings.get(name)
    const text = (record[at] ?? '').trim().replaceAll('\0', '').slice(0, 500)
    if (meaning === undefined || ofPeople.has(meaning) || text === '') return
    fields[name] = text
    if (meaning === 'occurred_at') day = isoTime(text, of.dates, zoneOf('UTC'))?.slice(0, 10) ?? null
  })
  return { fields, day }
}

export const keepAside = async (
  tx: Transaction,
  { source, jobId }: { readonly source: string; readonly jobId: string },
  rows: readonly SetAside[],
): Promise<void> => {
  if (rows.length === 0) return
  await tx.execute(sql`INSERT INTO row_aside (client_id, source, job_id, row, day, why, fault, fields)
    SELECT current_client(), ${source}, ${jobId}, r.row, r.day, r.why, r.fault, r.fields
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS r(row int, day date, why text, fault jsonb, fields jsonb)`)
}

/** Rows of files that were set aside, of one source or of all; those of files that were taken back are gone with them. */
export const loadAside = (tx: Transaction, source: string): Promise<AsideRow[]> =>
  rowsOf(
    tx,
    {
      jobId: is.text,
      file: is.text,
      row: is.whole,
      day: is.maybe(is.text),
      why: is.oneOf('nothing', 'unread'),
      fields: is.dict(is.text),
    },
    sql`SELECT r.job_id AS "jobId", j.message AS file, r.row, r.day::text AS day, r.why, r.fields
      FROM row_aside r JOIN job j USING (client_id, job_id)
      WHERE r.client_id = current_client() AND r.source = ${source} AND j.taken_back_at IS NULL ORDER BY j.ordinal DESC, r.row`,
  )

/** Says that a row moves nothing, or that it is a movement after all. @throws Refused where there is none */
export const sayOfAside = (
  database: Database,
  actor: Actor,
  said: { readonly source: string; readonly jobId: string; readonly row: number; readonly why: Why },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const { source, jobId, row, why } = said
      const [before] = await rowsOf(
        tx,
        { why: is.text },
        sql`SELECT why FROM row_aside WHERE client_id = current_client() AND source = ${source} AND job_id = ${jobId} AND row = ${row} FOR UPDATE`,
      )
      const was = found(before, 'row that was set aside')
      await tx.execute(
        sql`UPDATE row_aside SET why = ${why} WHERE client_id = current_client() AND source = ${source} AND job_id = ${jobId} AND row = ${row}`,
      )
      await recordAct(tx, actor, {
        sort: 'row_aside',
        note: `row ${row}`,
        touched: [
          {
            subject: 'source',
            key: subjectKey(source),
            before: { [`row ${row}`]: was.why },
            after: { [`row ${row}`]: why },
          },
        ],
      })
      await markStages(tx, ['clearing', 'close'])
    }),
  )
