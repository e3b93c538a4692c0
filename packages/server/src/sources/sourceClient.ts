import {
  type ActivityLine,
  activityColumns,
  balanceColumns,
  type DateBasis,
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
import { FileRefused } from '../access/fileRefused.ts'
import { type Credentials, outsideService, type TokenSource } from '../grants/outsideService.ts'

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
/** A source reached over HTTP; `signal` ends whatever is under way. */
export const httpSourceClient = (
  source: string,
  reached: {
    readonly address: string
    readonly access: Credentials | TokenSource
    readonly dateBasis?: DateBasis
    /** What it may be asked for besides activity; what is left out was not granted. */
    readonly lists?: ReadonlySet<string>
  },
  signal: AbortSignal,
): SourceClient => {
  const { get } = outsideService({ name: source, ...reached, signal })
  const lists = reached.lists ?? new Set(['settlements', 'balances'])
  return {
    activity: async cursor => {
      const page = pageSchema.parse(
        await get(`/activity?limit=500${cursor === null ? '' : `&after=${encodeURIComponent(cursor)}`}`),
      )
      return {
        ...page,
        lines: readRecords(page.lines, activityColumns, (fields, context) =>
          readActivityRow(fields, { ...context, source, dateBasis: reached.dateBasis ?? 'order' }),
        ),
      }
    },
    settlements: async () =>
      lists.has('settlements')
        ? readRecords(rowsSchema.parse(await get('/settlements')).rows, settlementColumns, readSettlementRow)
        : [],
    balances: async () =>
      lists.has('balances')
        ? readRecords(rowsSchema.parse(await get('/balances')).rows, balanceColumns, (fields, context) =>
            readBalanceRow(fields, { ...context, source }),
          )
        : [],
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
