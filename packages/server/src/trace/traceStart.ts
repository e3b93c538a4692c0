import type { TraceStart, TraceStep } from '@culvert/contract'
import { isPayout, type Kind, kinds, type StatementPart, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  lineColumns,
  loadSuppliesOf,
  resolveStored,
  type StoredLine,
  settlementLines,
  storedLineShape,
} from '../activity/activityLines.ts'
import { postedAs } from '../activity/postedAs.ts'
import { type SettlementKey, settlementName } from '../activity/settlementKey.ts'
import type { Supplies } from '../activity/supplies.ts'
import { composeFor } from '../composing/composeFor.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { parseTransferId } from '../ledger/transferId.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'

/** Some lines of one settlement, what they were booked under, and where on their way one stands. */
export interface Found {
  readonly title: string
  readonly amount: number
  readonly key: SettlementKey
  readonly generation: number | null
  readonly client: ClientSetup
  readonly supplies: Supplies
  readonly lines: readonly StoredLine[]
  readonly here: TraceStep['sort']
  /** The entry line one came from. */
  readonly entry: { readonly number: string; readonly line: number } | null
}

/** A place on the way of some lines of one settlement. */
export type LineStart = Exclude<TraceStart, { at: 'account' | 'kind' | 'product' | 'reported' | 'bank' | 'chart' }>

/** Finds the lines behind where one stands; null if there is no such place. */
export const findStart = async (tx: Transaction, start: LineStart): Promise<Found | null> => {
  switch (start.at) {
    case 'entry_line':
      return fromEntryLine(tx, start)
    case 'entry':
      return fromEntry(tx, start.entry)
    case 'statement':
    case 'settlement':
      return fromSettlement(tx, start)
    case 'draft_line':
      return fromDraftLine(tx, start)
    case 'line':
    case 'order':
      return fromLines(tx, start)
    case 'transfer':
      return fromTransfer(tx, start.id)
    case 'bank_line':
      return fromBankLine(tx, start)
  }
}

const loadLines = async (tx: Transaction, key: SettlementKey, generation: number | null) => {
  const posted = generation === null ? await postedAs(tx, key) : await postedAs(tx, key, generation)
  const client = await loadSetup(tx, posted?.mapVersion ?? null)
  const asOf = posted?.pullNo ?? 'now'
  const lines = await settlementLines(tx, key, asOf)
  return { client, lines, posted, supplies: await loadSuppliesOf(tx, client, lines, asOf) }
}

const fromEntryLine = async (tx: Transaction, start: { entry: string; line: number }): Promise<Found | null> => {
  const [year, number] = start.entry.split('-').map(Number)
  const [row] = await rowsOf(
    tx,
    {
      source: is.maybe(is.text),
      key: is.maybe(is.text),
      currency: is.text,
      generation: is.maybe(is.whole),
      document: is.text,
      payout_line: is.maybe(is.text),
      account: is.text,
      name: is.text,
      amount: is.minor,
      buckets: is.list(is.text),
    },
    sql`
    SELECT e.source, e.key, e.currency, e.generation, coalesce(r.document, e.document) AS document, e.payout_line, l.account, a.name,
      l.amount, l.buckets
    FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number) JOIN account a ON a.client_id = e.client_id AND a.code = l.account
    LEFT JOIN entry r ON r.client_id = e.client_id AND r.fiscal_year = e.reverses_year AND r.number = e.reverses_number
    WHERE e.client_id = current_client() AND e.fiscal_year = ${year} AND e.number = ${number} AND l.line_no = ${start.line}`,
  )
  if (!row || row.source === null || row.key === null) return null
  const key = { source: row.source, key: row.key, currency: row.currency }
  const { client, lines, supplies } = await loadLines(tx, key, row.generation)
  return {
    title: `${row.account} ${row.name}`,
    amount: row.amount,
    key,
    generation: row.generation,
    client,
    supplies,
    lines: linesBehind(lines, { client, supplies }, row),
    here: row.document === 'transfer' ? 'transfer' : 'entry',
    entry: { number: start.entry, line: start.line },
  }
}

/** A whole entry: all that was booked with it, at the sum of its debits. */
const fromEntry = async (tx: Transaction, entry: string): Promise<Found | null> => {
  const [year, number] = entry.split('-').map(Number)
  const [row] = await rowsOf(
    tx,
    { line: is.whole, total: is.whole },
    sql`
    SELECT min(l.line_no) FILTER (WHERE l.buckets = '[]') AS line, sum(greatest(l.amount, 0))::bigint AS total
    FROM entry_line l WHERE l.client_id = current_client() AND l.fiscal_year = ${year} AND l.number = ${number}`,
  )
  const found = row && (await fromEntryLine(tx, { entry, line: row.line ?? 1 }))
  return found ? { ...found, title: `Entry ${entry}`, amount: row.total, entry: null } : null
}

const linesBehind = (
  lines: readonly StoredLine[],
  { client, supplies }: Pick<Found, 'client' | 'supplies'>,
  entryLine: { payout_line: string | null; buckets: readonly string[] },
): StoredLine[] => {
  if (entryLine.payout_line !== null) return lines.filter(line => line.lineId === entryLine.payout_line)
  // The clearing account's line is made of no bucket: all that was booked with it stands behind it.
  const wanted = new Set(entryLine.buckets)
  return lines.filter(line => {
    if (isPayout(line.kind as Kind)) return false
    return resolveStored(line, client, supplies).some(
      ({ bucket }) => bucket !== null && (wanted.size === 0 || wanted.has(bucket)),
    )
  })
}

// Gross has its tax in it, as the statement's figure does.
const isOfPart = (kind: Kind, part: StatementPart): boolean =>
  kinds[kind].part === part || (part === 'gross' && kinds[kind].part === 'tax')

const fromSettlement = async (
  tx: Transaction,
  start: SettlementKey & { kind?: string; category?: string | undefined; part?: StatementPart | undefined },
): Promise<Found | null> => {
  const key = { source: start.source, key: start.key, currency: start.currency }
  const { client, lines, supplies } = await loadLines(tx, key, null)
  if (lines.length === 0) return null
  const { part } = start
  const mine =
    start.kind === undefined
      ? lines.filter(line => (part ? isOfPart(line.kind as Kind, part) : !isPayout(line.kind as Kind)))
      : lines.filter(line => line.kind === start.kind && (line.category ?? '') === (start.category ?? ''))
  const kindLabel =
    start.kind === undefined
      ? `${settlementName(key)}${part ? ` · ${part}` : ''}`
      : (kinds[start.kind as Kind]?.label ?? start.kind)
  return {
    title: start.category ? `${kindLabel} · ${start.category}` : kindLabel,
    amount: sumMinor(mine, line => line.amount),
    key,
    generation: null,
    client,
    supplies,
    lines: mine,
    here: 'line',
    entry: null,
  }
}

const fromDraftLine = async (
  tx: Transaction,
  start: SettlementKey & { entry: number; line: number },
): Promise<Found | null> => {
  const key = { source: start.source, key: start.key, currency: start.currency }
  const { client, lines, supplies } = await loadLines(tx, key, null)
  const composed = await composeFor(tx, client, key)
  const entry = composed?.entries[start.entry]
  const line = entry?.lines[start.line - 1]
  if (!entry || !line) return null
  return {
    title: `${line.account} ${client.setup.accounts.get(line.account)?.name ?? ''}`,
    amount: line.amount,
    key,
    generation: null,
    client,
    supplies,
    lines: linesBehind(lines, { client, supplies }, { payout_line: entry.payoutLine, buckets: line.buckets }),
    here: entry.document === 'transfer' ? 'transfer' : 'entry',
    entry: null,
  }
}

const fromLines = async (
  tx: Transaction,
  start: { at: 'line'; source: string; lineId: string } | { at: 'order'; order: string },
): Promise<Found | null> => {
  const where =
    start.at === 'line'
      ? sql`l.source = ${start.source} AND l.line_id = ${start.lineId}`
      : sql`l.order_id = ${start.order}`
  const rows = await rowsOf(
    tx,
    {
      ...storedLineShape,
      key: is.text,
    },
    sql`
    SELECT ${lineColumns('now')}, l.settlement_key AS key FROM line_as_of l WHERE l.client_id = current_client() AND ${where}
      AND l.stands
    ORDER BY l.occurred_at, l.line_id`,
  )
  const [first] = rows
  if (!first) return null
  const key = { source: first.source, key: first.key, currency: first.currency }
  const posted = await postedAs(tx, key)
  const mine = rows.filter(
    line => line.key === first.key && line.source === first.source && line.currency === first.currency,
  )
  const client = await loadSetup(tx, posted?.mapVersion ?? null)
  return {
    title: start.at === 'line' ? `${kinds[first.kind as Kind].label} ${first.lineId}` : `Order ${start.order}`,
    amount: sumMinor(mine, line => line.amount),
    key,
    generation: null,
    client,
    supplies: await loadSuppliesOf(tx, client, mine, 'now'),
    lines: mine,
    here: start.at,
    entry: null,
  }
}

const fromTransfer = async (tx: Transaction, id: string): Promise<Found | null> => {
  const parsed = parseTransferId(id)
  if (!parsed) return null
  const [row] = await rowsOf(
    tx,
    { key: is.text, currency: is.text, amount: is.minor, entry: is.text },
    sql`
    SELECT key, currency, amount, fiscal_year || '-' || number AS entry FROM transfer WHERE client_id = current_client()
      AND source = ${parsed.source} AND payout_line = ${parsed.payoutLine} AND generation = ${parsed.generation}`,
  )
  if (!row) return null
  const key = { source: parsed.source, key: row.key, currency: row.currency }
  const { client, lines, supplies } = await loadLines(tx, key, parsed.generation)
  return {
    title: `Transfer of ${settlementName(key)}`,
    amount: row.amount,
    key,
    generation: parsed.generation,
    client,
    supplies,
    lines: lines.filter(line => !isPayout(line.kind as Kind)),
    here: 'transfer',
    entry: null,
  }
}

const fromBankLine = async (tx: Transaction, start: { account: string; id: string }): Promise<Found | null> => {
  const [row] = await rowsOf(
    tx,
    { source: is.text, payout_line: is.text, generation: is.whole },
    sql`
    SELECT t.source, t.payout_line, t.generation FROM paired_bank_line b JOIN paired_transfer t USING (client_id, pairing_id)
    WHERE b.client_id = current_client() AND b.bank_account = ${start.account} AND b.line_id = ${start.id} AND b.active LIMIT 1`,
  )
  if (!row) return null
  const found = await fromTransfer(tx, `${row.source}/${row.generation}/${row.payout_line}`)
  return found && { ...found, title: `Bank line ${start.id}`, here: 'bank_line' }
}
