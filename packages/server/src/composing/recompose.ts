import {
  type Block,
  type Composed,
  composeSettlement,
  type DraftEntry,
  entryDateOf,
  hasOddDates,
  notBefore,
  type Setup,
  sumMinor,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  compareKeys,
  holdSettlements,
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
import { blockOpenSales } from './openSales.ts'

/** Settlements that are composed in one transaction. */
export const batchSize = 200

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

/** What something outside of a settlement holds it up by: an entry like its own, a channel that is not pulled, an order that is open. */
type HeldReason = 'likely_double' | 'awaits_channel' | 'order_open'

/** Composes anew what something outside of it held up, in a transaction of its own: they stand anywhere in the order of locks. */
export const recomposeHeldBy = (database: Database, actor: Actor, reason: HeldReason): Promise<void> =>
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
  const single = await blockDoubles(tx, client, composed)
  const checked = await blockOpenSales(tx, client, await blockAwaiting(tx, client, single))
  const judged = checked.map(
    ({ loaded, composed: { blocks } }, index): Judged => ({
      loaded,
      composed: {
        blocks,
        entryDate: datedAt(loaded, (composed[index] as ComposedOne).composed, client.setup),
        tax: taxIn((composed[index] as ComposedOne).composed.entries, client.setup),
      },
    }),
  )
  return [...posted, ...judged]
}

/** Where only the payouts are booked here, their transfers are not before the first day. */
const datedAt = ({ activity, partHere }: LoadedActivity, composed: Composed, { sources }: Setup): string | null => {
  const date = entryDateOf(activity, composed)
  const source = sources.get(activity.source)
  return partHere === 'payouts' && date !== null && source ? notBefore(date, source) : date
}

const oddDates = ({ activity }: LoadedActivity, { sources, timing }: Setup): boolean => {
  const source = sources.get(activity.source)
  return source !== undefined && hasOddDates(activity, source, timing)
}

/** Settlements that are held up by something outside of them: an entry like theirs in the ledger, or a channel not pulled yet. */
export const heldBy = (tx: Transaction, reason: HeldReason): Promise<SettlementKey[]> =>
  rowsOf(
    tx,
    keyShape,
    sql`SELECT source, key, currency FROM settlement WHERE client_id = current_client() AND state = 'blocked'
      AND blocks @> ${JSON.stringify([{ reason }])}::jsonb`,
  )

const store = async (tx: Transaction, client: ClientSetup, judged: readonly Judged[]): Promise<void> => {
  if (judged.length === 0) return
  const rows = judged.map(({ loaded, loaded: { key, figures }, composed }) => ({
    ...key,
    first_date: figures.firstDate,
    last_date: figures.lastDate,
    lines: figures.lines,
    gross: figures.gross,
    fees: figures.fees,
    payout: figures.payout,
    balance: figures.balance,
    blocks: composed && (loaded.partHere === 'nothing' ? [] : composed.blocks),
    elsewhere: loaded.partHere === 'nothing',
    payouts_only: loaded.partHere === 'payouts',
    odd_dates: oddDates(loaded, client.setup),
    entry_date: composed?.entryDate ?? null,
    tax: composed?.tax ?? null,
  }))
  await tx.execute(sql`
    UPDATE settlement s SET first_date = j.first_date, last_date = j.last_date, lines = j.lines, gross = j.gross,
      fees = j.fees, payout = j.payout, balance = j.balance,
      blocks = coalesce(j.blocks, s.blocks), tax = coalesce(j.tax, s.tax),
      entry_date = CASE WHEN j.blocks IS NULL THEN s.entry_date ELSE j.entry_date END,
      odd_dates = j.odd_dates,
      payouts_only = CASE WHEN j.blocks IS NULL THEN s.payouts_only ELSE j.payouts_only END,
      map_version = CASE WHEN j.blocks IS NULL THEN s.map_version ELSE ${client.setupVersion} END,
      state = CASE WHEN j.blocks IS NULL THEN s.state WHEN j.elsewhere THEN 'elsewhere' WHEN s.state = 'set_aside' THEN s.state
        WHEN j.blocks = '[]' THEN 'proposed' ELSE 'blocked' END
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS j(source text, key text, currency char(3), first_date date,
      last_date date, lines int, gross bigint, fees bigint, payout bigint, balance bigint, blocks jsonb, entry_date date,
      tax bigint, elsewhere boolean, payouts_only boolean, odd_dates boolean)
    WHERE s.client_id = current_client() AND s.source = j.source AND s.key = j.key AND s.currency = j.currency`)
}
