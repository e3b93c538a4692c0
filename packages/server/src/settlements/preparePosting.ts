import { createHash } from 'node:crypto'
import type { BlockRow } from '@culvert/contract'
import { type Composed, composeSettlement } from '@culvert/core'
import type { Readonlike } from '../access/serve.ts'
import { type SettlementKey, textOfKey } from '../activity/settlementKey.ts'
import { blockAwaiting } from '../composing/awaitsChannel.ts'
import { blockDoubles } from '../composing/likelyDoubles.ts'
import { type LoadedActivity, loadActivity } from '../composing/loadActivity.ts'
import { blockOpenSales } from '../composing/openSales.ts'
import type { Transaction } from '../database/connect.ts'
import { type BookingDays, loadBookingDays } from '../ledger/bookingDay.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'

/** Why a settlement was not posted: it is not there, already posted or set aside, or blocked. */
export type NotPosted =
  | { readonly key: SettlementKey; readonly reason: 'unknown' | 'posted' | 'set_aside' | 'elsewhere' }
  | { readonly key: SettlementKey; readonly reason: 'blocked'; readonly blocks: readonly Readonlike<BlockRow>[] }

/** Settlements composed for posting, and those that cannot be posted. */
export interface Prepared {
  readonly client: ClientSetup
  /** On which days entries may be booked. */
  readonly days: BookingDays
  readonly ready: readonly { readonly loaded: LoadedActivity; readonly composed: Composed }[]
  readonly notPosted: readonly NotPosted[]
}

/** What is to be posted of one settlement, digested: its lines, its entries to the cent, and which posting of it this is. SHA-256, in hex. */
export const digestOfReady = ({ loaded, composed }: Prepared['ready'][number]): string =>
  createHash('sha256')
    .update(JSON.stringify([loaded.key, loaded.generation, loaded.inputHash, composed.entries]))
    .digest('hex')

/** Composes settlements from what is stored now, before any lock is taken. */
export const prepareBatch = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<Prepared> => {
  const client = await loadSetup(tx)
  const loaded = await loadActivity(tx, client, { keys })
  const found = new Set(loaded.map(one => textOfKey(one.key)))
  const notPosted: NotPosted[] = keys.filter(key => !found.has(textOfKey(key))).map(key => ({ key, reason: 'unknown' }))
  const free = await blockDoubles(
    tx,
    client,
    loaded.map(one => ({ loaded: one, composed: composeSettlement(one.activity, client.setup) })),
    { among: true },
  )
  const composed = await blockOpenSales(tx, client, await blockAwaiting(tx, client, free))
  const days = await loadBookingDays(tx)
  const ready = composed.filter(one => {
    const reason = refusal(one)
    if (reason) notPosted.push(reason)
    return reason === null
  })
  return { client, days, ready, notPosted }
}

const refusal = ({ loaded, composed }: { loaded: LoadedActivity; composed: Composed }): NotPosted | null => {
  const { key, state } = loaded
  if (state === 'posted' || state === 'set_aside' || state === 'elsewhere') return { key, reason: state }
  return composed.blocks.length > 0 ? { key, reason: 'blocked', blocks: composed.blocks } : null
}
