import type { ActivityLine } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { RecordBytes } from '../activity/copyRecords.ts'
import { type CountsBy, daysOf } from '../activity/countsBy.ts'
import { lastDayOf } from '../activity/lastDay.ts'
import { beginMerge, endMerge, type Merged, type MergePull, mergeStaged } from '../activity/mergeActivity.ts'
import { Persons, storePersons } from '../activity/persons.ts'
import { keyRows, type SettlementKey, textOfKey } from '../activity/settlementKey.ts'
import { copyRecord, copyToStage, type KeptOfLine, makeStage } from '../activity/stageActivity.ts'
import { markStages } from '../course/markStages.ts'
import type { Transaction } from '../database/connect.ts'
import { refreshStatistics } from '../database/statistics.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { countCorrections } from './countCorrections.ts'
import { settlementsTaxedBy } from './movedTax.ts'
import { recompose } from './recompose.ts'

/** What was stored, and as which pull; null where nothing was. */
export interface Stored extends Merged {
  readonly pullNo: number | null
}

/** Takes lines; stores one chunk while the next is read. */
export interface ActivityStore {
  /** Adds a line, with what is kept of one that is stored already; waits where the database is slower than the file. */
  add(line: ActivityLine, kept?: KeptOfLine): void | Promise<void>
  /**
   * Stores the rest and brings all that rests on it up to date: settlements, corrections, the course; or marks only what is to be brought up to date by
   * `settleMarked`, once for all that a pull's steps have stored.
   */
  finish(settle?: 'now' | 'later'): Promise<Stored>
  /** Waits until nothing runs on the transaction any more; what was stored goes when it is rolled back. */
  abandon(): Promise<void>
}

/** A chunk is stored when it has so many lines, or so many bytes. */
const chunkLines = 20_000
const chunkBytes = 8_000_000

/**
 * Opens the way for lines of `source` into the activity. Nothing else may be asked on the transaction until `finish` or
 * `abandon` has ended. The source is held from the first chunk on, not while a small file is still being read. The lines were read as `by` says.
 */
export const openStore = (
  tx: Transaction,
  { source, by: counts, client }: { readonly source: string; readonly by: CountsBy; readonly client: ClientSetup },
): ActivityStore => {
  const persons = new Persons(client.personKey, source)
  const by = { ...daysOf(client, counts), persons }
  let records = new RecordBytes()
  let pull: MergePull | null = null
  let storing: Promise<void> = Promise.resolve()
  const total = { added: 0, revised: 0, same: 0 }
  const touched = new Map<string, SettlementKey>()

  const storeChunk = async (chunk: RecordBytes, met: RecordBytes): Promise<void> => {
    if (pull === null) {
      await makeStage(tx)
      pull = await beginMerge(tx, source, counts)
    }
    await storePersons(tx, source, met)
    await copyToStage(tx, chunk)
    const merged = await mergeStaged(tx, pull)
    total.added += merged.added
    total.revised += merged.revised
    total.same += merged.same
    for (const key of merged.touched) touched.set(textOfKey(key), key)
  }
  const next = async (): Promise<void> => {
    const chunk = records
    const met = persons.take()
    records = new RecordBytes()
    await storing
    storing = storeChunk(chunk, met)
    // Whoever waits for it next meets the failure; until then it must not count as unhandled.
    storing.catch(() => undefined)
  }
  return {
    add: (line, kept) => {
      records.add(copyRecord(line, by, kept))
      if (records.lines >= chunkLines || records.length >= chunkBytes) return next()
    },
    finish: async (settle = 'now') => {
      await next()
      await storing
      const stored = pull !== null && total.added + total.revised > 0
      if (pull !== null && stored) await endMerge(tx, pull)
      await refreshStatistics(tx, 'activity_superseded', total.revised)
      await refreshStatistics(tx, 'activity_line', total.added + total.revised)
      // Those that the pull touched, and those that hang on what it brought. A source's first pull has all it brought in hand.
      const hanging =
        pull !== null && stored && !(pull as MergePull).first
          ? await settlementsTaxedBy(tx, await loadSetup(tx), pull)
          : []
      const concerned = [...new Map([...touched, ...hanging.map(key => [textOfKey(key), key] as const)]).values()]
      if (settle === 'now') await settleTouched(tx, concerned)
      else await markTouched(tx, concerned)
      return { ...total, touched: [...touched.values()], pullNo: stored ? (pull as unknown as MergePull).pullNo : null }
    },
    abandon: () => storing.catch(() => undefined),
  }
}

/** Says that the lines of settlements have changed since they were composed; those that are not there yet are made. */
const markTouched = async (tx: Transaction, touched: readonly SettlementKey[]): Promise<void> => {
  if (touched.length === 0) return
  await tx.execute(sql`INSERT INTO settlement (client_id, source, key, currency, touched)
    SELECT current_client(), k.source, k.key, k.currency, true FROM ${keyRows(touched)}
    ON CONFLICT (client_id, source, key, currency) DO UPDATE SET touched = true`)
}

/** Brings settlements up to date after their lines or heads have changed; those without a head so far are made. */
export const settleTouched = async (tx: Transaction, touched: readonly SettlementKey[]): Promise<void> => {
  if (touched.length === 0) return
  await tx.execute(sql`INSERT INTO settlement (client_id, source, key, currency)
    SELECT current_client(), k.source, k.key, k.currency FROM ${keyRows(touched)} ON CONFLICT DO NOTHING`)
  // Without it the planner takes a new client for an empty one, and any index for as good as the key's.
  await refreshStatistics(tx, 'settlement', touched.length)
  await recompose(tx, touched)
  await countCorrections(tx, touched)
  await markStages(tx, ['sources', 'mapping', 'settlements', 'payments', 'clearing', 'close'])
}

/** Says up to which moment a source's activity is known: its last line. */
export const markPulledTo = (tx: Transaction, source: string, cursor: string | null) =>
  tx.execute(sql`UPDATE source s SET cursor = coalesce(${cursor}, cursor),
      pulled_to = (SELECT max(occurred_at) FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source AND l.stands
        AND l.local_date = (${lastDayOf(sql`s.source`)}))
    WHERE client_id = current_client() AND source = ${source}`)
