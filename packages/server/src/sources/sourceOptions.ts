import type { BasisEffect, SavedOptions, SourceOptionsBody, SourceOptionsPage } from '@culvert/contract'
import { defaultOptions, isZone } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { found, Refused } from '../access/refused.ts'
import { type CountsBy, daysOf, isSameCounting } from '../activity/countsBy.ts'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import { markPulledTo, openStore } from '../composing/storeActivity.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { is } from '../database/rows.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { stored } from '../setup/stored.ts'
import { countAnew, effectOf } from './countAnew.ts'

/** Where an entry's dates, and which lines it has, hang on them: what is posted would be read by what it was not posted by. */
const fixedOncePosted = ['splitAtMonthEnd', 'bookPending'] as const

const optionsOf = async (tx: Transaction, source: string): Promise<SourceOptionsBody> => {
  const [row] = await rowsOf(
    tx,
    {
      options: stored.options,
    },
    sql`SELECT options FROM source WHERE client_id = current_client() AND source = ${source}`,
  )
  return { ...defaultOptions, detail: [...defaultOptions.detail], ...found(row, 'source').options }
}

const countPosted = async (tx: Transaction, source: string): Promise<number> =>
  (
    await oneRow(
      tx,
      { posted: is.whole },
      sql`SELECT count(*)::int AS posted FROM settlement WHERE client_id = current_client() AND source = ${source} AND state = 'posted'`,
    )
  ).posted

/** A source's options as they stand, and what changing them has to mind. @throws Refused where there is none */
export const loadOptions = async (tx: Transaction, source: string): Promise<SourceOptionsPage> => {
  const { mapVersion, setup } = await loadSetup(tx)
  return {
    version: mapVersion,
    options: await optionsOf(tx, source),
    posted: await countPosted(tx, source),
    payables: [...setup.accounts.values()]
      .filter(account => !account.archived && /payable|liability/.test(account.type))
      .map(({ code, name }) => ({ code, name })),
  }
}

/** What counting otherwise would make of a source's lines. @throws Refused where there is no such time zone */
export const askBasis = (
  database: Database,
  actor: Actor,
  { source, by }: { readonly source: string; readonly by: CountsBy },
): Promise<BasisEffect> => {
  refuseZone(by)
  return asClient(database, actor, async tx => effectOf(tx, { source, by, days: daysOf(await loadSetup(tx), by) }))
}

const refuseZone = ({ timeZone }: Pick<CountsBy, 'timeZone'>): void => {
  if (timeZone !== null && !isZone(timeZone)) throw new Refused('zone_unknown', { zone: timeZone })
}

/** What a save tells as it goes on. */
interface Told {
  /** Of lines that were looked at; what it throws undoes the save. */
  readonly counted: (lines: number) => void
  /** In the transaction of the save, when all else of it is done. */
  readonly saved: (tx: Transaction, outcome: SavedOptions) => Promise<void>
}

/**
 * Saves a source's options as a version of the map: what is posted stays as it was posted, what waits is composed anew. By what lines count is changed
 * for those that are stored too. @throws Refused where something is posted that the change would turn
 */
export const saveOptions = async (
  database: Database,
  actor: Actor,
  save: { readonly source: string; readonly options: SourceOptionsBody; readonly madeFrom?: MadeFrom },
  told?: Told,
): Promise<SavedOptions> => {
  const { source, options } = save
  const { version, result } = await saveMap(database, actor, {
    act: 'save_options',
    note: source,
    madeFrom: save.madeFrom,
    part: async tx => touchables('source', [await optionsOf(tx, source)], () => source),
    change: async tx => {
      const before = await optionsOf(tx, source)
      await holdSources(tx, [source], 'store')
      const changed = fixedOncePosted.filter(name => before[name] !== options[name])
      if (changed.length > 0 && (await countPosted(tx, source)) > 0) throw new Refused('fixed_once_posted')
      refuseZone(options)
      await refuseUnknown(tx, options)
      await refusePostedBefore(tx, source, before.bookedFrom, options.bookedFrom)
      // Whoever composed by the old ones and has not posted yet finds the source moved on, and composes anew.
      if (changed.length > 0 || before.bookedFrom !== options.bookedFrom)
        await tx.execute(
          sql`UPDATE source SET last_pull = last_pull + 1 WHERE client_id = current_client() AND source = ${source}`,
        )
      await tx.execute(sql`UPDATE source SET options = ${JSON.stringify(options)}::jsonb
        WHERE client_id = current_client() AND source = ${source}`)
      return isSameCounting(before, options)
        ? 0
        : count(database, actor, tx, { source, by: options, counted: told?.counted })
    },
    after: async (tx, saved, counted) => {
      await tx.execute(sql`INSERT INTO source_options (client_id, source, version, options)
        VALUES (current_client(), ${source}, ${saved}, ${JSON.stringify(options)}::jsonb)`)
      await told?.saved(tx, { version: saved, counted })
    },
  })
  return { version, counted: result }
}

// The lines are read on a connection of their own: nobody else changes them while the source is held.
const count = (
  database: Database,
  actor: Actor,
  tx: Transaction,
  of: { readonly source: string; readonly by: CountsBy; readonly counted: Told['counted'] | undefined },
): Promise<number> =>
  asClient(database, actor, async reader => {
    const client = await loadSetup(reader)
    const store = openStore(tx, { ...of, client })
    try {
      await countAnew(reader, store, { ...of, days: daysOf(client, of.by) })
    } catch (error) {
      await store.abandon()
      throw error
    }
    const { added, revised } = await store.finish()
    await markPulledTo(tx, of.source, null)
    return added + revised
  })

/** What is posted stays as it was posted: the first day moves over nothing that is. */
const refusePostedBefore = async (
  tx: Transaction,
  source: string,
  from: string | null,
  to: string | null,
): Promise<void> => {
  if (from === to) return
  const { posted, until } = await oneRow(
    tx,
    { posted: is.whole, until: is.maybe(is.text) },
    sql`SELECT count(*)::int AS posted, max(coalesce(period_end, last_date))::text AS until FROM settlement
      WHERE client_id = current_client() AND source = ${source} AND state = 'posted'
        AND least(first_date, entry_date) < greatest(${from}::date, ${to}::date)`,
  )
  if (posted > 0) throw new Refused('posted_before', { posted, until })
}

const refuseUnknown = async (tx: Transaction, { stockPayable }: SourceOptionsBody): Promise<void> => {
  if (stockPayable === null) return
  const [account] = await rowsOf(
    tx,
    {},
    sql`SELECT FROM account WHERE client_id = current_client() AND code = ${stockPayable} AND NOT archived`,
  )
  if (!account) throw new Refused('account_unusable', { account: stockPayable })
}
