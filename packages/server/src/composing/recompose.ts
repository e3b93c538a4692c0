import { type Block, composeSettlement, type DraftEntry, entryDateOf, type Setup, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  compareKeys,
  holdSettlements,
  inKeyOrder,
  inKeyOrderDown,
  keyRows,
  keyShape,
  type SettlementKey,
  textOfKey,
} from '../activity/settlementKey.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { blockAwaiting } from './awaitsChannel.ts'
import { blockDoubles, type ComposedOne } from './likelyDoubles.ts'
import { type LoadedActivity, loadActivity } from './loadActivity.ts'

const batchSize = 200

/** Tax in the composed entries: what they credit to tax accounts, minor units. */
const taxIn = (entries: readonly DraftEntry[], setup: Setup): number =>
  -sumMinor(
    entries.flatMap(entry => entry.lines),
    line => (setup.accounts.get(line.account)?.type === 'tax' ? line.amount : 0),
  ) || 0

/** What a settlement's lines come to and, unless it is posted, what came of composing it. */
interface Judged {
  readonly loaded: LoadedActivity
  readonly composed: {
    readonly blocks: readonly Block[]
    readonly entryDate: string | null
    readonly tax: number
  } | null
}

/**
 * Works out the figures of settlements from their lines, composes those that are not posted anew, and stores what came of it: proposed, or
 * blocked with all reasons. They are composed before they are held, and once more where one has changed meanwhile.
 */
export const recompose = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<void> => {
  if (keys.length === 0) return
  const client = await loadSetup(tx)
  const concerned = [...keys].sort(compareKeys)
  for (let start = 0; start < concerned.length; start += batchSize) {
    const batch = concerned.slice(start, start + batchSize)
    const judged = await judgeAll(tx, client, await loadActivity(tx, client, { keys: batch }))
    const held = new Map((await holdSettlements(tx, batch)).map(row => [textOfKey(row), row.seen]))
    const moved = judged.filter(({ loaded }) => held.get(textOfKey(loaded.key)) !== loaded.seen)
    await store(
      tx,
      client,
      judged.filter(one => !moved.includes(one)),
    )
    if (moved.length === 0) continue
    // Held now: neither their lines nor their state can change any more.
    const now = await loadSetup(tx)
    await store(
      tx,
      now,
      await judgeAll(tx, now, await loadActivity(tx, now, { keys: moved.map(one => one.loaded.key) })),
    )
  }
}

/** Composes anew those of some settlements that still say proposed, such as one whose double was posted beside it. */
export const recomposeProposed = async (
  database: Database,
  actor: Actor,
  keys: readonly SettlementKey[],
): Promise<void> => {
  if (keys.length === 0) return
  await retrying(() =>
    asClient(database, actor, async tx => {
      const proposed = await rowsOf(
        tx,
        keyShape,
        sql`SELECT s.source, s.key, s.currency FROM settlement s
          JOIN ${keyRows(keys)} ON k.source = s.source AND k.key = s.key AND k.currency = s.currency
          WHERE s.client_id = current_client() AND s.state = 'proposed'`,
      )
      if (proposed.length === 0) return
      await recompose(tx, proposed)
      await markStages(tx, ['settlements', 'clearing'])
    }),
  )
}

/**
 * Settlements that are not posted and were composed under another setup than the one that stands: the first of them, or the last of those that are
 * not among the first.
 */
const loadOutdated = (tx: Transaction, lane: Lane) => {
  const outdated = sql`settlement s JOIN client c ON c.client_id = s.client_id
    WHERE s.client_id = current_client() AND s.state IN ('blocked', 'proposed', 'set_aside') AND s.map_version <> c.setup_version`
  const key = sql`SELECT s.source, s.key, s.currency FROM ${outdated}`
  return rowsOf(
    tx,
    keyShape,
    lane === 'first'
      ? sql`${key} ORDER BY ${inKeyOrder} LIMIT ${batchSize}`
      : sql`${key} ORDER BY ${inKeyOrderDown}
          LIMIT least(${batchSize}, greatest(0, (SELECT count(*) FROM ${outdated}) - ${batchSize}))`,
  )
}

type Lane = 'first' | 'last'

/**
 * Composes anew, a batch at a time in transactions of their own, whatever was composed under a setup that is no more. Whoever ends last, a save or
 * a pull, finds what the other left: neither has to wait for the other's whole work. Two batches are in hand at once, from both ends: while the
 * lines of one are added up in the database, the other is composed.
 */
export const recomposeOutdated = async (
  database: Database,
  actor: Actor,
  tell: (composed: number) => void = () => undefined,
): Promise<void> => {
  const lanes = await Promise.allSettled(
    (['first', 'last'] as const).map(lane => recomposeLane(database, actor, lane, tell)),
  )
  const failed = lanes.find(one => one.status === 'rejected')
  if (failed) throw failed.reason
  if (lanes.some(one => one.status === 'fulfilled' && one.value > 0))
    await retrying(() => asClient(database, actor, tx => markStages(tx, ['mapping', 'settlements', 'clearing'])))
}

const recomposeLane = async (
  database: Database,
  actor: Actor,
  lane: Lane,
  tell: (composed: number) => void,
): Promise<number> => {
  for (let all = 0; ; ) {
    const found = await retrying(() =>
      asClient(database, actor, async tx => {
        const keys = await loadOutdated(tx, lane)
        await recompose(tx, keys)
        return keys.length
      }),
    )
    if (found === 0) return all
    all += found
    tell(found)
  }
}

/** Composes anew what something outside of it held up, in a transaction of its own: they stand anywhere in the order of locks. */
export const recomposeHeldBy = (
  database: Database,
  actor: Actor,
  reason: 'likely_double' | 'awaits_channel',
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const keys = await heldBy(tx, reason)
      if (keys.length === 0) return
      await recompose(tx, keys)
      await markStages(tx, ['mapping', 'settlements', 'clearing'])
    }),
  )

const judgeAll = async (
  tx: Transaction,
  client: ClientSetup,
  all: readonly LoadedActivity[],
): Promise<readonly Judged[]> => {
  const posted = all.filter(one => one.state === 'posted').map(loaded => ({ loaded, composed: null }))
  const open = all.filter(one => one.state !== 'posted')
  const composed = open.map(loaded => ({ loaded, composed: composeSettlement(loaded.activity, client.setup) }))
  const checked = await blockAwaiting(tx, client, await blockDoubles(tx, client, composed))
  const judged = checked.map(
    ({ loaded, composed: { blocks } }, index): Judged => ({
      loaded,
      composed: {
        blocks,
        entryDate: entryDateOf(loaded.activity, (composed[index] as ComposedOne).composed),
        tax: taxIn((composed[index] as ComposedOne).composed.entries, client.setup),
      },
    }),
  )
  return [...posted, ...judged]
}

/** Settlements that are held up by something outside of them: an entry like theirs in the ledger, or a channel not pulled yet. */
export const heldBy = (tx: Transaction, reason: 'likely_double' | 'awaits_channel'): Promise<SettlementKey[]> =>
  rowsOf(
    tx,
    keyShape,
    sql`SELECT source, key, currency FROM settlement WHERE client_id = current_client() AND state = 'blocked'
      AND blocks @> ${JSON.stringify([{ reason }])}::jsonb`,
  )

const store = async (tx: Transaction, client: ClientSetup, judged: readonly Judged[]): Promise<void> => {
  if (judged.length === 0) return
  const rows = judged.map(({ loaded: { key, figures }, composed }) => ({
    ...key,
    first_date: figures.firstDate,
    last_date: figures.lastDate,
    lines: figures.lines,
    gross: figures.gross,
    fees: figures.fees,
    payout: figures.payout,
    balance: figures.balance,
    blocks: composed?.blocks ?? null,
    entry_date: composed?.entryDate ?? null,
    tax: composed?.tax ?? null,
  }))
  await tx.execute(sql`
    UPDATE settlement s SET first_date = j.first_date, last_date = j.last_date, lines = j.lines, gross = j.gross,
      fees = j.fees, payout = j.payout, balance = j.balance,
      blocks = coalesce(j.blocks, s.blocks), tax = coalesce(j.tax, s.tax),
      entry_date = CASE WHEN j.blocks IS NULL THEN s.entry_date ELSE j.entry_date END,
      map_version = CASE WHEN j.blocks IS NULL THEN s.map_version ELSE ${client.setupVersion} END,
      state = CASE WHEN j.blocks IS NULL OR s.state = 'set_aside' THEN s.state
        WHEN j.blocks = '[]' THEN 'proposed' ELSE 'blocked' END
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS j(source text, key text, currency char(3), first_date date,
      last_date date, lines int, gross bigint, fees bigint, payout bigint, balance bigint, blocks jsonb, entry_date date,
      tax bigint)
    WHERE s.client_id = current_client() AND s.source = j.source AND s.key = j.key AND s.currency = j.currency`)
}
