import { addDays, type DocumentRef, findLeads, type Lead, type LedgerMovement, type NamedAmount } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { documentRef } from '../ledger/documentRef.ts'

/** Days before a proof in which leads are looked for, and at most so many entries. */
const daysBack = 400
const mostEntries = 5000

const movementShape = {
  ref: is.maybe(documentRef),
  name: is.text,
  date: is.date,
  amount: is.minor,
  by: is.optional(is.text),
  about: is.optional(is.maybe(is.text)),
}

/** A movement with the document that shows it. */
interface FoundMovement extends LedgerMovement {
  readonly ref: DocumentRef | null
}
export type FoundLead = Omit<Lead, 'movements'> & { readonly movements: readonly FoundMovement[] }

interface Unexplained {
  readonly account: string
  readonly currency: string
  readonly date: string
  /** Minor units; zero where only entries are wrong. */
  readonly amount: number
  /** Entries that are not what their lines come to. */
  readonly wrongEntries: readonly NamedAmount[]
  /** What was reported, and by whom. */
  readonly reported: { readonly amount: number; readonly by: string }
}

/** Where an unexplained amount may come from: entries on the account, lines of its source, settlements that do not foot. */
export const loadLeads = async (
  tx: Transaction,
  found: Unexplained,
  sources: readonly string[],
): Promise<readonly FoundLead[]> => {
  const refs = new Map<LedgerMovement, DocumentRef | null>()
  const noted = (rows: readonly FoundMovement[]): LedgerMovement[] =>
    rows.map(({ ref, ...movement }) => {
      refs.set(movement, ref)
      return movement
    })
  const wrongEntries = noted(found.wrongEntries)
  const movements = noted([
    {
      name: `${found.reported.by}’s balance`,
      date: found.date,
      amount: found.reported.amount,
      by: 'balance',
      ref: null,
    },
    ...(await entriesOn(tx, found)),
    ...(sources.length === 0 ? [] : await linesOf(tx, found, sources)),
  ])
  const unfooted = noted(sources.length === 0 ? [] : await unfootedOf(tx, found, sources))
  return findLeads(found.amount, movements, { unfooted, wrongEntries }).map(lead => ({
    ...lead,
    movements: lead.movements.map(movement => ({ ...movement, ref: refs.get(movement) ?? null })),
  }))
}

const entriesOn = (tx: Transaction, { account, currency, date }: Unexplained) =>
  rowsOf(
    tx,
    movementShape,
    sql`
    SELECT 'books' AS by, 'entry ' || e.fiscal_year || '-' || lpad(e.number::text, 4, '0') || CASE WHEN e.memo = '' THEN '' ELSE ', ' || e.memo END AS name,
      l.date::text AS date, l.amount, json_build_object('of', 'entry', 'fiscalYear', e.fiscal_year, 'number', e.number) AS ref
    FROM entry_line l JOIN entry e ON e.client_id = l.client_id AND e.fiscal_year = l.fiscal_year AND e.number = l.number
    WHERE l.client_id = current_client() AND l.account = ${account} AND l.currency = ${currency} AND l.amount <> 0
      AND l.date BETWEEN ${addDays(date, -daysBack)} AND ${date}
    ORDER BY l.date DESC LIMIT ${mostEntries}`,
  )

// Only lines that can be the whole of it, or half: what they add up to in pairs is found among the entries.
const linesOf = (tx: Transaction, { currency, date, amount }: Unexplained, sources: readonly string[]) => {
  const half = amount % 2 === 0 ? [amount / 2, -amount / 2] : []
  return rowsOf(
    tx,
    movementShape,
    sql`
    SELECT 'source' AS by, coalesce(l.order_id, l.line_id) AS about, 'line ' || l.line_id || coalesce(' of ' || l.order_id, '') AS name, l.local_date::text AS date, l.amount,
      json_build_object('of', 'settlement', 'source', l.source, 'key', l.settlement_key) AS ref
    FROM line_as_of l
    WHERE l.client_id = current_client() AND l.source = ANY(${sql.param([...sources])}::text[]) AND l.currency = ${currency}
      AND l.amount = ANY(${sql.param([amount, -amount, ...half])}::bigint[])
      AND l.local_date BETWEEN ${addDays(date, -daysBack)} AND ${date} AND ${revisionAsOf('now')}
    ORDER BY l.local_date DESC LIMIT 200`,
  )
}

const unfootedOf = (tx: Transaction, { currency, date }: Unexplained, sources: readonly string[]) =>
  rowsOf(
    tx,
    movementShape,
    sql`
    SELECT s.key AS name, coalesce(s.last_date, s.entry_date)::text AS date, (b->>'amount')::bigint AS amount,
      json_build_object('of', 'settlement', 'source', s.source, 'key', s.key) AS ref
    FROM settlement s, jsonb_array_elements(s.blocks) b
    WHERE s.client_id = current_client() AND s.source = ANY(${sql.param([...sources])}::text[]) AND s.currency = ${currency} AND s.state = 'blocked'
      AND b->>'reason' = 'does_not_foot' AND s.first_date <= ${date}`,
  )
