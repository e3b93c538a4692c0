import {
  type ActivityLine,
  activityColumns,
  balanceColumns,
  FaultList,
  type ReportedBalance,
  readActivityRow,
  readBalanceRow,
  readColumns,
  readSettlementRow,
  type SettlementHead,
  settlementColumns,
} from '@culvert/core'
import { z } from 'zod'
import { FileRefused } from './fileRefused.ts'

/** How Culvert talks to an outside source; one implementation per sort of source. */
export interface SourceClient {
  /** The page of activity after a cursor (null: from the beginning). */
  activity(cursor: string | null): Promise<ActivityPage>
  settlements(): Promise<SettlementHead[]>
  balances(): Promise<ReportedBalance[]>
}

export interface ActivityPage {
  readonly lines: readonly ActivityLine[]
  /** Where the next page begins; null when this is the last for now. */
  readonly next: string | null
  /** To remember where to go on later. */
  readonly cursor: string | null
  /** Lines still to come with this page, where the source says. */
  readonly remaining: number | null
}

const text = z
  .union([z.string(), z.number()])
  .transform(String)
  .nullish()
  .transform(value => value ?? '')
const record = z.record(z.string(), text)
const pageSchema = z.object({
  lines: z.array(record).max(10_000),
  next: z.string().nullable(),
  cursor: z.string().nullable(),
  remaining: z.number().int().nullable(),
})
const rowsSchema = z.object({ rows: z.array(record).max(100_000) })
const tokenSchema = z.object({ token: z.string(), expires_in: z.number() })

export const credentialsSchema = z.object({ key: z.string(), secret: z.string() })
type Credentials = z.infer<typeof credentialsSchema>

/** What went wrong on the way to a source, for the pull log. */
export class SourceUnreachable extends Error {
  override readonly name = 'SourceUnreachable'
}

const attempts = 5
const pause = (milliseconds: number) => new Promise(resolve => setTimeout(resolve, milliseconds))

/** A source reached over HTTP with a token and pages: waits when told to, renews its token, tries faults again. */
export const httpSourceClient = (source: string, address: string, credentials: Credentials): SourceClient => {
  let token: string | null = null

  const renew = async (): Promise<string> => {
    const response = await fetch(`${address}/token`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(credentials),
      signal: AbortSignal.timeout(15_000),
    })
    if (response.status === 401 || response.status === 403)
      throw new SourceUnreachable(`${source} refused the access: ${response.status}`)
    if (!response.ok) throw new Error(`${response.status} when asked for a token`)
    return tokenSchema.parse(await response.json()).token
  }

  const get = async (path: string): Promise<unknown> => {
    for (let attempt = 1; ; attempt++) {
      const problem = await (async () => {
        token ??= await renew()
        const response = await fetch(`${address}${path}`, {
          headers: { authorization: `Bearer ${token}` },
          signal: AbortSignal.timeout(30_000),
        })
        if (response.ok) return { body: (await response.json()) as unknown }
        if (response.status === 401) token = null
        const wait = Number(response.headers.get('retry-after'))
        return { status: response.status, wait: Number.isFinite(wait) && wait > 0 ? wait * 1000 : null }
      })().catch((error: unknown) => {
        if (error instanceof SourceUnreachable) throw error
        return { status: error instanceof Error ? error.message : 'no answer', wait: null }
      })
      if ('body' in problem) return problem.body
      if (attempt === attempts)
        throw new SourceUnreachable(
          `${source} did not answer ${path.split('?')[0]}: ${problem.status}, ${attempts} times`,
        )
      await pause(problem.wait ?? 100 * 2 ** attempt)
    }
  }
  return {
    activity: async cursor => {
      const page = pageSchema.parse(
        await get(`/activity?limit=500${cursor === null ? '' : `&after=${encodeURIComponent(cursor)}`}`),
      )
      return {
        ...page,
        lines: readRecords(page.lines, activityColumns, (fields, context) =>
          readActivityRow(fields, { ...context, source }),
        ),
      }
    },
    settlements: async () =>
      readRecords(rowsSchema.parse(await get('/settlements')).rows, settlementColumns, readSettlementRow),
    balances: async () =>
      readRecords(rowsSchema.parse(await get('/balances')).rows, balanceColumns, (fields, context) =>
        readBalanceRow(fields, { ...context, source }),
      ),
  }
}

/** Reads JSON records by the same rules as a file's rows. @throws FileRefused */
const readRecords = <Name extends string, Row>(
  records: readonly Record<string, string>[],
  expected: { known: readonly Name[]; required: readonly Name[] },
  readRow: (
    fields: readonly string[],
    context: { columns: ReturnType<typeof readColumns<Name>>; row: number; faults: FaultList },
  ) => Row | null,
): Row[] => {
  const names = [...new Set([...expected.known, ...records.flatMap(Object.keys)])]
  const faults = new FaultList()
  const columns = readColumns(names, expected, faults)
  const rows = records.map((fields, index) =>
    readRow(
      names.map(name => fields[name] ?? ''),
      { columns, row: index + 1, faults },
    ),
  )
  if (faults.count > 0) throw new FileRefused(faults)
  return rows.filter(row => row !== null)
}
