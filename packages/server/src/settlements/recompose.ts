import { type Block, type Composed, composeSettlement, type DraftEntry, type Setup, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { blockAwaiting } from './awaitsChannel.ts'
import { blockDoubles, type ComposedOne } from './likelyDoubles.ts'
import { type LoadedActivity, loadActivity } from './loadActivity.ts'
import { type ClientSetup, loadSetup } from './loadSetup.ts'
import type { SettlementKey } from './settlementKey.ts'

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

/** Last date of a settlement's journal, or of its transfer where it has none. */
export const entryDateOf = (loaded: LoadedActivity, composed: Composed): string | null => {
  const dates = composed.entries.filter(entry => entry.document === 'journal').map(entry => entry.date)
  return dates.at(-1) ?? loaded.activity.day ?? loaded.activity.head?.periodEnd ?? loaded.activity.lastDate
}

/**
 * Works out the figures of settlements from their lines, composes those that are not posted anew, and stores what came of
 * it: proposed, or blocked with all reasons. Without `keys`, all of the client's that are not posted.
 */
export const recompose = async (tx: Transaction, keys: readonly SettlementKey[] | null): Promise<void> => {
  const client = await loadSetup(tx)
  const concerned = keys ?? (await loadNotPosted(tx))
  for (let start = 0; start < concerned.length; start += batchSize) {
    const loaded = await loadActivity(tx, client, { keys: concerned.slice(start, start + batchSize) })
    await store(tx, client, await judgeAll(tx, client, loaded))
  }
}

const loadNotPosted = (tx: Transaction) =>
  rowsOf<SettlementKey>(
    tx,
    sql`SELECT source, key, currency FROM settlement WHERE client_id = current_client()
      AND state IN ('blocked', 'proposed', 'set_aside') ORDER BY source, key, currency`,
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
        entryDate: entryDateOf(loaded, (composed[index] as ComposedOne).composed),
        tax: taxIn((composed[index] as ComposedOne).composed.entries, client.setup),
      },
    }),
  )
  return [...posted, ...judged]
}

/** Settlements that are held up by something outside of them: an entry like theirs in the ledger, or a channel not pulled yet. */
export const heldBy = (tx: Transaction, reason: 'likely_double' | 'awaits_channel'): Promise<SettlementKey[]> =>
  rowsOf<SettlementKey>(
    tx,
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
      map_version = CASE WHEN j.blocks IS NULL THEN s.map_version ELSE ${client.mapVersion} END,
      state = CASE WHEN j.blocks IS NULL OR s.state = 'set_aside' THEN s.state
        WHEN j.blocks = '[]' THEN 'proposed' ELSE 'blocked' END
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS j(source text, key text, currency char(3), first_date date,
      last_date date, lines int, gross bigint, fees bigint, payout bigint, balance bigint, blocks jsonb, entry_date date,
      tax bigint)
    WHERE s.client_id = current_client() AND s.source = j.source AND s.key = j.key AND s.currency = j.currency`)
}
