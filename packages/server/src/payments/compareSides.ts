import { isCollection, oneSided, type TieOutLine } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { clearingAccounts } from '../activity/clearingAccounts.ts'
import { loadElsewhere } from '../activity/elsewhereLines.ts'
import { loadMatchedLines, loadOpenTies } from '../activity/tieLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'

/** The last local date that any source of the client is known to: what is younger than two days before it may still come. */
const knownTo = async (tx: Transaction): Promise<string> => {
  const { date } = await oneRow(
    tx,
    { date: is.maybe(is.date) },
    sql`SELECT max(last_date)::text AS date FROM settlement WHERE client_id = current_client()`,
  )
  return date ?? '0001-01-01'
}

/** Matches whose amounts differ, with both their lines. */
const loadDiffering = async (tx: Transaction) => {
  const rows = await rowsOf(
    tx,
    { gateway: is.text, collection: is.text, channel: is.text, tender: is.text, difference: is.minor },
    sql`SELECT gateway, collection_line AS collection, channel, tender_line AS tender, difference FROM tender_match
      WHERE client_id = current_client() AND to_pull IS NULL AND difference <> 0`,
  )
  if (rows.length === 0) return []
  const lines = await loadMatchedLines(tx, rows)
  return rows.flatMap(row => {
    const tender = lines.tenderOf(row)
    const collection = lines.collectionOf(row)
    return tender && collection ? [{ tender, collection, by: 'order' as const, difference: row.difference }] : []
  })
}

export const gatewaysOf = ({ setup }: ClientSetup): Set<string> =>
  new Set([...setup.sources.values()].filter(source => source.shape !== 'channel').map(source => source.key))

/** What only channels or only gateways know of, whatever was decided of it, and labels that no source stands behind. */
export const compareSides = async (tx: Transaction, client: ClientSetup) => {
  const date = await knownTo(tx)
  const matches = await loadDiffering(tx)
  const elsewhere = await bookedElsewhere(tx, date)
  const before = await settledElsewhere(tx)
  const alone = (await loadOpenTies(tx)).filter(
    line => !elsewhere.has(`${line.source} ${line.lineId}`) && !(isCollection(line.kind) && before.has(placeOf(line))),
  )
  const found = oneSided(
    { lines: [...alone, ...matches.flatMap(match => [match.tender, match.collection])], matches, date },
    { labels: client.setup.labels ?? new Map(), gateways: gatewaysOf(client) },
  )
  return {
    items: found.items.filter(item => isTold(client, item.line)),
    labels: found.labels,
    elsewhere: [...elsewhere.values()],
  }
}

/** Collections that their routes send elsewhere: their money goes to an invoice, and no order is looked for. */
const bookedElsewhere = async (tx: Transaction, date: string) => {
  const found = new Map<string, { currency: string; amount: number }>()
  for (const clearing of await clearingAccounts(tx))
    for (const line of await loadElsewhere(tx, clearing))
      if (isCollection(line.kind) && line.date <= date)
        found.set(`${line.source} ${line.lineId}`, { currency: clearing.currency, amount: line.amount })
  return found
}

const placeOf = (line: { source: string; settlementKey: string; currency: string }): string =>
  JSON.stringify([line.source, line.settlementKey, line.currency])

/** Settlements from before their source's first day here: what they collected without an order is the former books' matter. */
const settledElsewhere = async (tx: Transaction): Promise<ReadonlySet<string>> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, settlementKey: is.text, currency: is.text },
    sql`SELECT source, key AS "settlementKey", currency FROM settlement WHERE client_id = current_client() AND state = 'elsewhere'`,
  )
  return new Set(rows.map(placeOf))
}

// A gateway without a channel books what it collects like sales: nothing is missing there.
const isTold = (client: ClientSetup, line: TieOutLine): boolean =>
  line.kind.startsWith('tender') || [...client.setup.sources.values()].some(source => source.shape === 'channel')
