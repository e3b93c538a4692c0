import { randomUUID } from 'node:crypto'
import type { Readable } from 'node:stream'
import {
  type ActivityColumn,
  activityColumns,
  type BalanceColumn,
  balanceColumns,
  type Columns,
  type DateBasis,
  FaultList,
  maxMinor,
  type ReportedBalance,
  readActivityRow,
  readBalanceRow,
  readColumns,
  readSettlementRow,
  type SettlementColumn,
  type SettlementHead,
  settlementColumns,
} from '@culvert/core'
import { refusalOf, refuseOn } from '../access/fileRefused.ts'
import { holdUpload } from '../activity/deadPulls.ts'
import { importBalances } from '../activity/importBalances.ts'
import { importHeads } from '../activity/importHeads.ts'
import { beginPull, endPull, noteRefusal, type PullCounts } from '../activity/pullLog.ts'
import { readTable, type TableReader } from '../activity/readTable.ts'
import { SeenIds } from '../activity/seenIds.ts'
import { copyRecord } from '../activity/stageActivity.ts'
import { follow } from '../composing/follow.ts'
import { type ActivityStore, markPulledTo, openStore, settleTouched } from '../composing/storeActivity.ts'
import { tieOut } from '../composing/tieOut.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'

export interface UploadOutcome extends PullCounts {
  readonly sort: 'activity' | 'settlements' | 'balances'
  /** Columns that Culvert does not know; kept with the lines. */
  readonly unknownColumns: readonly string[]
}

/**
 * Brings in activity.csv, settlements.csv or balances.csv, told apart by their headers. The file comes in whole or not
 * at all. @throws FileRefused with every fault found.
 */
export const uploadFile = async (
  database: Database,
  actor: Actor,
  upload: { readonly source: string; readonly name: string; readonly body: Readable },
): Promise<UploadOutcome> => {
  const pullId = randomUUID()
  // Its entry stands before anything is read: a process that is killed in the midst of it leaves one that can be told from what still runs.
  await asClient(database, actor, tx =>
    beginPull(tx, actor, { pullId, sort: 'upload', source: upload.source, state: 'running', message: upload.name }),
  )
  try {
    const stored = await asClient(database, actor, async tx => {
      await holdUpload(tx, pullId)
      const outcome = await readUpload(tx, upload)
      await endPull(tx, pullId, { state: 'done', message: upload.name, counts: outcome })
      await markStages(tx, ['sources'])
      return outcome
    })
    if (stored.sort === 'activity') await retrying(() => asClient(database, actor, tx => tieOut(tx)))
    await follow(database, actor)
    return stored
  } catch (caught) {
    const error = refusalOf(caught) ?? caught
    await noteRefusal(database, actor, { pullId, name: upload.name, error })
    throw error
  }
}

type Target =
  | {
      readonly sort: 'activity'
      readonly columns: Columns<ActivityColumn>
      readonly dateBasis: DateBasis
      readonly store: ActivityStore
      readonly ids: SeenIds
      /** Sizes of the amounts so far, by currency: minor units. */
      readonly sizes: Map<string, number>
    }
  | { readonly sort: 'settlements'; readonly columns: Columns<SettlementColumn>; readonly heads: SettlementHead[] }
  | { readonly sort: 'balances'; readonly columns: Columns<BalanceColumn>; readonly balances: ReportedBalance[] }

const readUpload = async (
  tx: Transaction,
  { source, body }: { source: string; body: Readable },
): Promise<UploadOutcome> => {
  const client = await loadSetup(tx)
  const faults = new FaultList()
  let target: Target | null = null
  const reader: TableReader = {
    header: header => {
      target = chooseTarget(header, { faults, tx, source, client })
    },
    row: (record, row) => (target === null ? undefined : takeRow(target, record, { row, source, faults, client })),
  }
  try {
    await readTable(body, reader, faults)
    refuseOn(faults)
  } catch (error) {
    const chosen = target as Target | null
    if (chosen?.sort === 'activity') await chosen.store.abandon()
    throw error
  }
  if (target === null) throw new Error('a file without faults has a header')
  return storeTarget(tx, source, target)
}

const chooseTarget = (
  header: readonly string[],
  { faults, tx, source, client }: { faults: FaultList; tx: Transaction; source: string; client: ClientSetup },
): Target => {
  const names = new Set(header.map(name => name.trim()))
  if (names.has('available') && names.has('at'))
    return { sort: 'balances', columns: readColumns(header, balanceColumns, faults), balances: [] }
  if (names.has('period_start') || names.has('opening_balance') || names.has('closing_balance'))
    return { sort: 'settlements', columns: readColumns(header, settlementColumns, faults), heads: [] }
  const dateBasis = client.setup.sources.get(source)?.options.dateBasis ?? 'order'
  return {
    sort: 'activity',
    columns: readColumns(header, activityColumns, faults),
    dateBasis,
    store: openStore(tx, source, dateBasis),
    ids: new SeenIds(),
    sizes: new Map(),
  }
}

const takeRow = (
  target: Target,
  record: readonly string[],
  context: { row: number; source: string; faults: FaultList; client: Awaited<ReturnType<typeof loadSetup>> },
): void | Promise<void> => {
  const { faults, client, row } = context
  if (target.sort === 'settlements') {
    const head = readSettlementRow(record, { ...context, columns: target.columns })
    if (head) target.heads.push(head)
    refuseTooMany(target.heads, row, faults)
    return
  }
  if (target.sort === 'balances') {
    const balance = readBalanceRow(record, { ...context, columns: target.columns })
    if (balance) target.balances.push(balance)
    refuseTooMany(target.balances, row, faults)
    return
  }
  const line = readActivityRow(record, { ...context, columns: target.columns, dateBasis: target.dateBasis })
  if (!line) return
  if (!target.ids.add(line.lineId)) faults.add({ row, column: 'line_id', value: line.lineId, code: 'twice_in_file' })
  const size = (target.sizes.get(line.currency) ?? 0) + Math.abs(line.amount)
  // Beyond it no sum of them could be told exactly; the one that leads beyond is named.
  if (size > maxMinor) faults.add({ row, column: 'amount', value: String(line.amount), code: 'sum_out_of_range' })
  else target.sizes.set(line.currency, size)
  if (faults.count === 0) return target.store.add(copyRecord(line, client.zone, client.cutOff))
}

/** Rows of heads or balances that a file may have: they are held whole. */
const mostRows = 500_000

const refuseTooMany = (rows: unknown[], row: number, faults: FaultList): void => {
  if (rows.length <= mostRows) return
  faults.add({ row, column: null, value: '', code: 'too_many_rows' })
  rows.length = 0
}

const storeTarget = async (tx: Transaction, source: string, target: Target): Promise<UploadOutcome> => {
  const unknownColumns = target.columns.unknown.map(column => column.name)
  if (target.sort === 'balances') {
    const added = await importBalances(tx, source, target.balances)
    await markStages(tx, ['clearing'])
    return { sort: 'balances', added, revised: 0, same: target.balances.length - added, unknownColumns }
  }
  if (target.sort === 'settlements') {
    await holdSources(tx, [source], 'store')
    const stored = await importHeads(tx, source, target.heads)
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
  return { sort: 'activity', added: merged.added, revised: merged.revised, same: merged.same, unknownColumns }
}
