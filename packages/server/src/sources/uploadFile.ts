import type { Readable } from 'node:stream'
import { type UploadOutcome, uploadOutcome } from '@culvert/contract'
import {
  type ActivityLine,
  activityColumns,
  balanceColumns,
  type DateBasis,
  FaultList,
  mappedReader,
  mappingOf,
  maxMinor,
  type ReportedBalance,
  readActivityRow,
  readBalanceRow,
  readColumns,
  readSettlementRow,
  rowChoiceReader,
  type SettlementHead,
  settlementColumns,
} from '@culvert/core'
import { refuseOn } from '../access/fileRefused.ts'
import { countsBy } from '../activity/countsBy.ts'
import { importBalances } from '../activity/importBalances.ts'
import { importHeads } from '../activity/importHeads.ts'
import { SeenIds } from '../activity/seenIds.ts'
import { follow } from '../composing/follow.ts'
import { type ActivityStore, markPulledTo, openStore, settleTouched } from '../composing/storeActivity.ts'
import { tieOut } from '../composing/tieOut.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { loadSaved } from '../files/columns.ts'
import { readTable } from '../files/readTable.ts'
import { isMostlyOurs, ownSortOf } from '../files/recognise.ts'
import { type TableReader, type TableTold, tableTold } from '../files/tableReader.ts'
import { readAsJob, readAtOnce } from '../jobs/readFile.ts'
import type { JobWork } from '../jobs/runJob.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { asideOf, fieldsOf, keepAside, type SetAside } from './rowsAside.ts'

/**
 * Brings in activity.csv, settlements.csv or balances.csv, told apart by their headers. The file comes in whole or not
 * at all. @throws FileRefused with every fault found.
 */
export const uploadFile = async (
  database: Database,
  actor: Actor,
  {
    source,
    name,
    body,
    told,
  }: { readonly source: string; readonly name: string; readonly body: Readable; readonly told?: TableTold },
): Promise<UploadOutcome> => {
  const outcome = await readAtOnce(database, actor, { sort: 'upload', subject: source, name }, (tx, jobId) =>
    readUpload(tx, { source, body, told: told ?? {}, jobId }),
  )
  await followUpload(database, actor, outcome)
  return outcome
}

/** The same of a file that is kept for a job. */
export const uploadKept: JobWork = async (database, actor, job) => {
  const outcome = await readAsJob(database, actor, job, {
    work: (tx, body) =>
      readUpload(tx, { source: job.subject, body, told: tableTold.parse(job.asked ?? {}), jobId: job.jobId }),
    read: kept => uploadOutcome.parse(kept),
  })
  await followUpload(database, actor, outcome)
  return outcome
}

const followUpload = async (database: Database, actor: Actor, { sort }: UploadOutcome): Promise<void> => {
  if (sort === 'activity') await retrying(() => asClient(database, actor, tx => tieOut(tx)))
  await follow(database, actor)
}

type Target =
  | {
      readonly sort: 'activity'
      /** The lines of a record; null, with faults noted, where it is wrong. */
      readonly read: (record: readonly string[], row: number) => readonly ActivityLine[] | null
      readonly unknown: readonly string[]
      /** What of a record is kept where it is set aside. */
      readonly kept: (record: readonly string[]) => Pick<SetAside, 'fields' | 'day'>
      readonly store: ActivityStore
      readonly ids: SeenIds
      /** Sizes of the amounts so far, by currency: minor units. */
      readonly sizes: Map<string, number>
    }
  | {
      readonly sort: 'settlements'
      readonly read: (record: readonly string[], row: number) => SettlementHead | null
      readonly unknown: readonly string[]
      readonly heads: SettlementHead[]
    }
  | {
      readonly sort: 'balances'
      readonly read: (record: readonly string[], row: number) => ReportedBalance | null
      readonly unknown: readonly string[]
      readonly balances: ReportedBalance[]
    }

const readUpload = async (
  tx: Transaction,
  { source, body, told, jobId }: { source: string; body: Readable; told: TableTold; jobId: string },
): Promise<UploadOutcome> => {
  const client = await loadSetup(tx)
  const faults = new FaultList()
  let target: Target | null = null
  const wanted = asideOf(told.aside)
  const aside: SetAside[] = []
  const reader: TableReader = {
    header: async header => {
      target = await chooseTarget(header, { faults, tx, source, client })
    },
    row: (record, row) => {
      if (target === null) return
      const why = wanted.get(row)
      if (why === undefined || target.sort !== 'activity') return takeRow(target, record, { row, source, faults })
      const one = setAside(target, record, { row, why, faults })
      if (one) aside.push(one)
    },
  }
  try {
    await readTable(body, reader, faults, told)
    refuseOn(faults)
  } catch (error) {
    const chosen = target as Target | null
    if (chosen?.sort === 'activity') await chosen.store.abandon()
    throw error
  }
  if (target === null) throw new Error('a file without faults has a header')
  await keepAside(tx, { source, jobId }, aside)
  return { ...(await storeTarget(tx, { source, jobId }, target)), aside: aside.length }
}

/** Only what cannot be read is set aside: a row that can is never lost by a number that was meant for another. */
const setAside = (
  target: Extract<Target, { sort: 'activity' }>,
  record: readonly string[],
  { row, why, faults }: { readonly row: number; readonly why: SetAside['why']; readonly faults: FaultList },
): SetAside | null => {
  const before = faults.count
  target.read(record, row)
  const fault = faults.count > before ? faults.forget(before) : null
  if (fault) return { row, why, fault: { column: fault.column, code: fault.code }, ...target.kept(record) }
  faults.add({ row, column: null, value: '', code: 'row_reads' })
  return null
}

const chooseTarget = async (
  header: readonly string[],
  { faults, tx, source, client }: { faults: FaultList; tx: Transaction; source: string; client: ClientSetup },
): Promise<Target | null> => {
  const rows = await rowTarget(header, { faults, tx, source })
  if (rows !== undefined) return rows
  const by = countsBy(client.setup.sources.get(source)?.options ?? {})
  const reader = await readerOf(header, { faults, tx, source, dateBasis: by.dateBasis })
  if (reader === null) return null
  return {
    sort: 'activity',
    ...reader,
    store: openStore(tx, { source, by, client }),
    ids: new SeenIds(),
    sizes: new Map(),
  }
}

/** Settlements or balances, in our own columns or as somebody has said; undefined: the file is of movements; null: a column is missing. */
const rowTarget = async (
  header: readonly string[],
  { faults, tx, source }: { faults: FaultList; tx: Transaction; source: string },
): Promise<Target | null | undefined> => {
  const names = new Set(header.map(name => name.trim()))
  const own = ownSortOf(header)
  const saved = own === null ? await loadSaved(tx, { subject: 'source', key: source }, header) : null
  const noted = { source, faults }
  if (saved?.of === 'settlements') {
    const reader = rowChoiceReader('settlements', saved.choice, header, noted)
    return (
      reader && { sort: 'settlements', read: (record, row) => reader.read(record, row, faults), unknown: [], heads: [] }
    )
  }
  if (saved?.of === 'balances') {
    const reader = rowChoiceReader('balances', saved.choice, header, noted)
    return (
      reader && { sort: 'balances', read: (record, row) => reader.read(record, row, faults), unknown: [], balances: [] }
    )
  }
  if (saved) return undefined
  if (names.has('available') && names.has('at')) {
    const columns = readColumns(header, balanceColumns, faults)
    const read = (record: readonly string[], row: number) => readBalanceRow(record, { row, source, faults, columns })
    return { sort: 'balances', read, unknown: columns.unknown.map(column => column.name), balances: [] }
  }
  if (names.has('period_start') || names.has('opening_balance') || names.has('closing_balance')) {
    const columns = readColumns(header, settlementColumns, faults)
    const read = (record: readonly string[], row: number) => readSettlementRow(record, { row, faults, columns })
    return { sort: 'settlements', read, unknown: columns.unknown.map(column => column.name), heads: [] }
  }
  return undefined
}

// Our own columns, or those of another's shape whose meaning somebody has said of this source.
const readerOf = async (
  header: readonly string[],
  { faults, tx, source, dateBasis }: { faults: FaultList; tx: Transaction; source: string; dateBasis: DateBasis },
): Promise<Pick<Extract<Target, { sort: 'activity' }>, 'read' | 'unknown' | 'kept'> | null> => {
  if (ownSortOf(header) !== 'activity') {
    const saved = await loadSaved(tx, { subject: 'source', key: source }, header)
    if (saved?.of === 'activity') {
      const mapped = mappedReader(mappingOf(saved.choice, source), header, { source, faults, dateBasis })
      const { columns: said, dates } = saved.choice
      const meanings = new Map(
        said.flatMap(({ name, meaning }) => (meaning === null ? [] : [[name, meaning] as const])),
      )
      return (
        mapped && {
          read: (record, row) => mapped.read(record, row, faults),
          unknown: [],
          kept: record => fieldsOf(header, record, { meanings, dates }),
        }
      )
    }
    // A file that has most of our columns lacks the others; one that has few is of another shape, in which they may mean anything.
    if (!isMostlyOurs(header, activityColumns.required)) {
      faults.add({ row: 1, column: null, value: header.join(', '), code: 'unknown_head' })
      return null
    }
  }
  const columns = readColumns(header, activityColumns, faults)
  return {
    read: (record, row) => {
      const line = readActivityRow(record, { row, source, faults, columns, dateBasis })
      return line && [line]
    },
    unknown: columns.unknown.map(column => column.name),
    kept: record => fieldsOf(header, record, { meanings: ownMeanings, dates: 'ymd' }),
  }
}

const ownMeanings: ReadonlyMap<string, string> = new Map(activityColumns.known.map(name => [name, name]))

const takeRow = (
  target: Target,
  record: readonly string[],
  context: { row: number; source: string; faults: FaultList },
): void | Promise<void> => {
  const { faults, row } = context
  if (target.sort === 'settlements') {
    const head = target.read(record, row)
    if (head) target.heads.push(head)
    refuseTooMany(target.heads, row, faults)
    return
  }
  if (target.sort === 'balances') {
    const balance = target.read(record, row)
    if (balance) target.balances.push(balance)
    refuseTooMany(target.balances, row, faults)
    return
  }
  return takeLines(target, target.read(record, row) ?? [], context)
}

const takeLines = (
  target: Extract<Target, { sort: 'activity' }>,
  lines: readonly ActivityLine[],
  { faults, row }: { row: number; faults: FaultList },
): void | Promise<void> => {
  for (const [at, line] of lines.entries()) {
    if (!target.ids.add(line.lineId)) faults.add({ row, column: 'line_id', value: line.lineId, code: 'twice_in_file' })
    const size = (target.sizes.get(line.currency) ?? 0) + Math.abs(line.amount)
    // Beyond it no sum of them could be told exactly; the one that leads beyond is named.
    if (size > maxMinor) faults.add({ row, column: 'amount', value: String(line.amount), code: 'sum_out_of_range' })
    else target.sizes.set(line.currency, size)
    const waiting = faults.count === 0 ? target.store.add(line) : undefined
    if (waiting) return waiting.then(() => takeLines(target, lines.slice(at + 1), { row, faults }))
  }
}

/** Rows of heads or balances that a file may have: they are held whole. */
const mostRows = 500_000

const refuseTooMany = (rows: unknown[], row: number, faults: FaultList): void => {
  if (rows.length <= mostRows) return
  faults.add({ row, column: null, value: '', code: 'too_many_rows' })
  rows.length = 0
}

const storeTarget = async (
  tx: Transaction,
  { source, jobId }: { readonly source: string; readonly jobId: string },
  target: Target,
): Promise<UploadOutcome> => {
  const unknownColumns = [...target.unknown]
  if (target.sort === 'balances') {
    const added = await importBalances(tx, source, target.balances, jobId)
    await markStages(tx, ['clearing'])
    return { sort: 'balances', added, revised: 0, same: target.balances.length - added, unknownColumns }
  }
  if (target.sort === 'settlements') {
    await holdSources(tx, [source], 'store')
    const stored = await importHeads(tx, source, target.heads, jobId)
    await settleTouched(tx, stored.touched)
    return {
      sort: 'settlements',
      added: stored.added,
      revised: stored.revised,
      same: target.heads.length - stored.touched.length,
      unknownColumns,
    }
  }
  const merged = await target.store.finish()
  await markPulledTo(tx, source, null)
  const { added, revised, same, pullNo } = merged
  return { sort: 'activity', added, revised, same, unknownColumns, pullNo }
}
