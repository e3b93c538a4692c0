import { awaitedChannels, type Block, isCollection, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import type { ComposedOne } from './likelyDoubles.ts'

interface ReachRow {
  readonly gateway: string
  readonly source: string
  readonly pulledTo: string | null
}

/**
 * Blocks gateways' settlements whose collections could still belong to orders of a channel that is not pulled two days past them: what
 * books nothing once its order is there must not be booked before.
 */
export const blockAwaiting = async (
  tx: Transaction,
  client: ClientSetup,
  all: readonly ComposedOne[],
): Promise<readonly ComposedOne[]> => {
  if (!all.some(one => collectionsOf(one).length > 0)) return all
  const channels = await loadReaches(tx, client)
  return all.map(one => {
    const block = blockOf(
      one,
      channels.filter(channel => channel.gateway === one.loaded.key.source),
    )
    return block ? { ...one, composed: { ...one.composed, entries: [], blocks: [...one.composed.blocks, block] } } : one
  })
}

/** Collections that no tender has booked yet. */
const collectionsOf = ({ loaded }: ComposedOne) => loaded.activity.lines.filter(line => isCollection(line.kind))

const blockOf = (one: ComposedOne, channels: readonly ReachRow[]): Block | null => {
  const collections = collectionsOf(one)
  const last = collections.reduce<string | null>(
    (latest, line) => (latest === null || line.localDate > latest ? line.localDate : latest),
    null,
  )
  const awaits = awaitedChannels(last, channels).map(({ source, pulledTo }) => ({ source, pulledTo }))
  return awaits.length === 0
    ? null
    : { reason: 'awaits_channel', amount: sumMinor(collections, line => line.amount), concerned: [], awaits }
}

/** Channels that tender to a source, with the local date up to which each is known. */
export const channelsOf = async (tx: Transaction, client: ClientSetup, source: string): Promise<ChannelOf[]> => {
  const reaches = await loadReaches(tx, client)
  return reaches.flatMap(one =>
    one.gateway === source
      ? [{ source: one.source, name: client.sourceNames.get(one.source) ?? one.source, pulledTo: one.pulledTo }]
      : [],
  )
}

export interface ChannelOf {
  readonly source: string
  readonly name: string
  readonly pulledTo: string | null
}

// A channel that is pulled is known up to its last pull, however quiet it was; one whose activity comes as files up to its last line.
const loadReaches = async (tx: Transaction, { setup }: ClientSetup): Promise<readonly ReachRow[]> => {
  const rows = await rowsOfPrepared(
    tx,
    { label: is.text, source: is.text, pulledTo: is.maybe(is.text) },
    sql`
    SELECT t.label, t.channel AS source, (greatest(s.pulled_to, s.read_to)
      AT TIME ZONE coalesce(s.options->>'timeZone', c.time_zone))::date::text AS "pulledTo"
    FROM tender_label t JOIN source s ON s.client_id = t.client_id AND s.source = t.channel
    JOIN client c ON c.client_id = t.client_id WHERE t.client_id = current_client()`,
  )
  return rows.flatMap(({ label, ...channel }) => {
    const gateway = setup.labels?.get(label) ?? label
    return gateway !== channel.source && setup.sources.has(gateway) ? [{ gateway, ...channel }] : []
  })
}
