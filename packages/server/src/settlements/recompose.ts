import { type Block, type Composed, composeSettlement, type DraftEntry, type Setup, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { type LoadedActivity, loadActivity } from './loadActivity.ts'
import { type ClientSetup, loadSetup } from './loadSetup.ts'
import { keyRows, type SettlementKey } from './settlementKey.ts'

const batchSize = 200

/** Tax in the composed entries: what they credit to tax accounts, minor units. */
const taxIn = (entries: readonly DraftEntry[], setup: Setup): number =>
  -sumMinor(
    entries.flatMap(entry => entry.lines),
    line => (setup.accounts.get(line.account)?.type === 'tax' ? line.amount : 0),
  ) || 0

interface Judged {
  readonly key: SettlementKey
  readonly blocks: readonly Block[]
  readonly entryDate: string | null
  readonly tax: number
}

/** Last date of a settlement's journal, or of its transfer where it has none. */
export const entryDateOf = (loaded: LoadedActivity, composed: Composed): string | null => {
  const dates = composed.entries.filter(entry => entry.document === 'journal').map(entry => entry.date)
  return dates.at(-1) ?? loaded.activity.day ?? loaded.activity.head?.periodEnd ?? loaded.activity.lastDate
}

/**
 * Composes settlements that are not posted anew and stores what came of it: proposed, or blocked with all reasons.
 * Without `keys`, all of the client's.
 */
export const recompose = async (tx: Transaction, keys: readonly SettlementKey[] | null): Promise<void> => {
  const client = await loadSetup(tx)
  const waiting = await rowsOf<SettlementKey>(
    tx,
    keys === null
      ? sql`SELECT source, key, currency FROM settlement WHERE client_id = current_client()
        AND state IN ('blocked', 'proposed', 'set_aside') ORDER BY source, key, currency`
      : sql`SELECT s.source, s.key, s.currency FROM ${keyRows(keys)}
        JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
        WHERE s.client_id = current_client() AND s.state <> 'posted'`,
  )
  for (let start = 0; start < waiting.length; start += batchSize) {
    const loaded = await loadActivity(tx, client, { keys: waiting.slice(start, start + batchSize) })
    await store(
      tx,
      client,
      loaded.map(one => judge(one, client)),
    )
  }
}

const judge = (loaded: LoadedActivity, client: ClientSetup): Judged => {
  const composed = composeSettlement(loaded.activity, client.setup)
  return {
    key: loaded.key,
    blocks: composed.blocks,
    entryDate: entryDateOf(loaded, composed),
    tax: taxIn(composed.entries, client.setup),
  }
}

const store = async (tx: Transaction, client: ClientSetup, judged: readonly Judged[]): Promise<void> => {
  if (judged.length === 0) return
  const rows = JSON.stringify(
    judged.map(one => ({ ...one.key, blocks: one.blocks, entry_date: one.entryDate, tax: one.tax })),
  )
  await tx.execute(sql`
    UPDATE settlement s SET blocks = j.blocks, entry_date = j.entry_date, tax = j.tax, map_version = ${client.mapVersion},
      state = CASE WHEN s.state = 'set_aside' THEN s.state WHEN j.blocks = '[]' THEN 'proposed' ELSE 'blocked' END
    FROM jsonb_to_recordset(${rows}::jsonb) AS j(source text, key text, currency char(3), blocks jsonb, entry_date date, tax bigint)
    WHERE s.client_id = current_client() AND s.source = j.source AND s.key = j.key AND s.currency = j.currency`)
}
