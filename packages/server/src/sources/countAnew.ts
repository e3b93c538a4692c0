import type { BasisEffect } from '@culvert/contract'
import {
  type ActivityLine,
  countedBy,
  type DateBasis,
  type Kind,
  parseInstant,
  type Status,
  type Zone,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { revisionAsOf } from '../activity/storedLines.ts'
import type { ActivityStore } from '../composing/storeActivity.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

// What a source has told of its lines is counted by another of their moments. All that it takes is stored with them.

interface StoredRow extends Omit<ActivityLine, 'instant' | 'status' | 'extra' | 'kind' | 'held' | 'countsAt'> {
  readonly kind: Kind
  readonly status: Status
  readonly extra: Readonly<Record<string, string>> | null
  readonly counts: number
  readonly settlementKey: string
  readonly posted: boolean
  readonly digest: number
  readonly person: string | null
  readonly rest: Readonly<Record<string, string>> | null
}

const batchLines = 10_000

/** The lines of a source as they stand, by id, from after one on. */
const readLines = (tx: Transaction, source: string, after: string): Promise<StoredRow[]> =>
  rowsOf(
    tx,
    {
      kind: is.kind,
      status: is.oneOf('failed', 'available', 'pending'),
      extra: is.maybe(is.dict(is.text)),
      counts: is.whole,
      settlementKey: is.text,
      posted: is.yes,
      digest: is.whole,
      person: is.maybe(is.text),
      rest: is.maybe(is.dict(is.text)),
      gateway: is.maybe(is.text),
      category: is.maybe(is.text),
      sku: is.maybe(is.text),
      location: is.maybe(is.text),
      amount: is.minor,
      currency: is.text,
      description: is.maybe(is.text),
      source: is.text,
      method: is.maybe(is.text),
      email: is.maybe(is.text),
      region: is.maybe(is.text),
      url: is.maybe(is.text),
      taxLabel: is.maybe(is.text),
      lineId: is.text,
      occurredAt: is.text,
      orderId: is.maybe(is.text),
      taxAmount: is.maybe(is.minor),
      customer: is.maybe(is.text),
      relatedId: is.maybe(is.text),
      settlementId: is.maybe(is.text),
      quantity: is.maybe(is.text),
      shipTo: is.maybe(is.text),
      unitPrice: is.maybe(is.whole),
      availableAt: is.maybe(is.text),
    },
    sql`SELECT l.source, l.line_id AS "lineId", l.settlement_id AS "settlementId", l.settlement_key AS "settlementKey", l.occurred_text AS "occurredAt",
      floor(extract(epoch FROM l.occurred_at) * 1000)::bigint AS counts, l.kind, l.order_id AS "orderId", l.gateway, l.method, l.category, l.sku,
      l.description, l.quantity, l.unit_price AS "unitPrice", l.location, l.region, l.customer, l.email, l.ship_to AS "shipTo", l.currency,
      l.amount, l.tax_amount AS "taxAmount", l.tax_label AS "taxLabel", l.related_id AS "relatedId", l.status, l.available_at AS "availableAt", l.url,
      l.extra, l.rest, l.person_id AS person, l.content_hash AS digest, EXISTS (SELECT FROM settlement s WHERE s.client_id = l.client_id AND s.source = l.source
        AND s.key = l.settlement_key AND s.currency = l.currency AND s.state = 'posted') AS posted
    FROM line_as_of l WHERE l.client_id = current_client() AND l.source = ${source} AND l.line_id > ${after} AND ${revisionAsOf('now')}
    ORDER BY l.line_id LIMIT ${batchLines}`,
  )

const toldAt = (text: string | undefined) => {
  const instant = text === undefined ? null : parseInstant(text)
  return text === undefined || instant === null ? null : { text, instant }
}

/** A stored line as it counts by a basis; null where nothing about it changes. */
const countAgain = (row: StoredRow, basis: DateBasis): ActivityLine | null => {
  const { status: waits, ...extra } = row.extra ?? {}
  const occurred = toldAt(row.occurredAt)
  if (occurred === null) throw new Error(`${row.lineId} was stored with a time that is none: ${row.occurredAt}`)
  const told = { occurred, paid: toldAt(extra.paid_at), sent: toldAt(extra.sent_at) }
  // A line that was held back said that it is available: what it waits for is kept with it.
  const { counts, status, held } = countedBy(basis, { ...told, status: waits === undefined ? row.status : 'available' })
  if (counts.instant === row.counts && status === row.status) return null
  const { counts: _, settlementKey: __, posted: ___, digest: ____, person: _____, rest, ...line } = row
  return {
    ...line,
    instant: counts.instant,
    status,
    extra: { ...rest, ...extra },
    ...(counts === occurred ? {} : { countsAt: counts.text }),
    ...(held && { held: true as const }),
  }
}

/** Goes through a source's lines; `take` is told of each that counts otherwise by a basis. Returns how many there are. */
const eachChanged = async (
  tx: Transaction,
  of: { readonly source: string; readonly basis: DateBasis; readonly counted?: ((lines: number) => void) | undefined },
  take: (line: ActivityLine, row: StoredRow) => void | Promise<void>,
): Promise<number> => {
  let after = ''
  for (let lines = 0; ; ) {
    const rows = await readLines(tx, of.source, after)
    for (const row of rows) {
      const line = countAgain(row, of.basis)
      if (line) await take(line, row)
    }
    lines += rows.length
    of.counted?.(rows.length)
    after = rows.at(-1)?.lineId ?? after
    if (rows.length < batchLines) return lines
  }
}

/** What another basis would do, without doing it. */
export const effectOf = async (
  tx: Transaction,
  zone: Zone,
  of: { readonly source: string; readonly basis: DateBasis },
): Promise<BasisEffect> => {
  const effect = { moved: 0, waiting: 0, released: 0 }
  const posted = new Set<string>()
  const lines = await eachChanged(tx, of, (line, row) => {
    if (zone.localDate(line.instant) !== zone.localDate(row.counts)) effect.moved++
    if (line.status === 'pending' && row.status !== 'pending') effect.waiting++
    if (line.status !== 'pending' && row.status === 'pending') effect.released++
    if (row.posted) posted.add(JSON.stringify([row.settlementKey, row.currency]))
  })
  return { lines, ...effect, posted: posted.size }
}

/** Counts a source's lines by another basis: each that counts otherwise gets a revision, as if the source had told it anew. `counted` is told of lines as they are looked at. Read from `reader`, since the store is at work on its own. */
export const countAnew = (
  reader: Transaction,
  store: ActivityStore,
  of: { readonly source: string; readonly basis: DateBasis; readonly counted?: ((lines: number) => void) | undefined },
): Promise<number> => eachChanged(reader, of, (line, { digest, person }) => store.add(line, { digest, person }))
