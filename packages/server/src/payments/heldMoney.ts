import { type ActivityLine, bookedLine, decidedLine, isTender, type OneSidedItem } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { lineColumns, resolveStored, type StoredLine, storedLineShape } from '../activity/activityLines.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { activityLine } from './activityLine.ts'
import { textOfPayment } from './paymentDecisions.ts'

/** Where the money of a one-sided payment stands in the books, and what keeps a decision from being booked. */
export interface Held {
  readonly account: { readonly account: string; readonly name: string } | null
  readonly hindered: 'not_posted' | 'no_account' | 'taxed_by_route' | null
  /** A route, or a rule, says where it goes. */
  readonly routed: boolean
  readonly line: ActivityLine
  readonly settlement: SettlementKey
}

interface PlacedLine extends StoredLine {
  readonly settlement: string
  readonly posted: boolean
  readonly map: number | null
}

const loadPlaced = (tx: Transaction, items: readonly OneSidedItem[]): Promise<PlacedLine[]> =>
  rowsOf(
    tx,
    { ...storedLineShape, settlement: is.text, posted: is.yes, map: is.maybe(is.whole) },
    sql`
    SELECT ${lineColumns('now')}, l.settlement_key AS settlement, coalesce(l.from_pull <= p.as_of, false) AS posted, p.map_version AS map
    FROM jsonb_to_recordset(${JSON.stringify(items.map(bookedLine).map(({ source, lineId }) => ({ source, line: lineId })))}::jsonb)
      AS n(source text, line text)
    JOIN line_as_of l ON l.client_id = current_client() AND l.source = n.source AND l.line_id = n.line AND l.stands
    LEFT JOIN settlement_as_of p ON p.client_id = l.client_id AND p.source = l.source AND p.key = l.settlement_key AND p.currency = l.currency
      AND p.stands`,
  )

/** By the line that a decision names; what stands and is booked is the tender, where there is one. A tender stands on its gateway's clearing account, a collection where its route booked it. */
export const loadHeld = async (
  tx: Transaction,
  client: ClientSetup,
  items: readonly OneSidedItem[],
): Promise<ReadonlyMap<string, Held>> => {
  if (items.length === 0) return new Map()
  const byLine = new Map(items.map(item => [textOfPayment(bookedLine(item)), item]))
  const setups = new Map<number | null, ClientSetup>()
  const held = new Map<string, Held>()
  for (const line of await loadPlaced(tx, items)) {
    const item = byLine.get(textOfPayment(line))
    if (!item) continue
    const version = line.posted ? line.map : null
    const setup = setups.get(version) ?? (await loadSetup(tx, version))
    setups.set(version, setup)
    const stands = standsOn(line, item, setup)
    const known = stands.account === null ? undefined : client.setup.accounts.get(stands.account)
    held.set(textOfPayment(decidedLine(item)), {
      account: known ? { account: known.code, name: known.name } : null,
      hindered: line.posted ? (known ? stands.hindered : 'no_account') : 'not_posted',
      routed: resolveStored(line, setup, null)[0]?.resolution.ok === true,
      line: activityLine(line),
      settlement: { source: line.source, key: line.settlement, currency: line.currency },
    })
  }
  return held
}

const standsOn = (
  line: PlacedLine,
  item: OneSidedItem,
  client: ClientSetup,
): { account: string | null; hindered: Held['hindered'] } => {
  if (isTender(item.line.kind) || item.other)
    return { account: client.setup.sources.get(item.gateway)?.clearing[item.line.currency] ?? null, hindered: null }
  const resolution = resolveStored(line, client, null)[0]?.resolution
  if (!resolution?.ok || resolution.elsewhere) return { account: null, hindered: null }
  // Its route took tax out of it: what is left on the account is not the whole of it any more.
  return { account: resolution.account ?? null, hindered: resolution.taxCode === null ? null : 'taxed_by_route' }
}
