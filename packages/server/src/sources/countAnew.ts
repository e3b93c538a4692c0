import type { BasisEffect } from '@culvert/contract'
import { type ActivityLine, countedBy, type Kind, parseInstant, type Status } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { CountsBy, daysOf } from '../activity/countsBy.ts'
import { dayKey } from '../activity/settlementKey.ts'
import { revisionAsOf } from '../activity/storedLines.ts'
import type { ActivityStore } from '../composing/storeActivity.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

// What a source has told of its lines is counted by another of their moments, or in another zone or by another cut-off. All that it takes is stored with them.

interface StoredRow extends Omit<ActivityLine, 'instant' | 'status' | 'extra' | 'kind' | 'held' | 'countsAt'> {
  readonly kind: Kind
  readonly status: Status
  readonly extra: Readonly<Record<string, string>> | null
  readonly counts: number
  readonly localDate: string
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
      localDate: is.date,
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
      floor(extract(epoch FROM l.occurred_at) * 1000)::bigint AS counts, l.local_date::text AS "localDate", l.kind, l.order_id AS "orderId", l.gateway, l.method, l.category, l.sku,
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

/** How lines are counted anew: by what, and where and until when their days run. */
export interface Counting {
  readonly source: string
  readonly by: CountsBy
  readonly days: ReturnType<typeof daysOf>
  /** Told of lines as they are looked at. */
  readonly counted?: ((lines: number) => void) | undefined
}

/** A stored line as it counts anew, and whether that is on another day; null where nothing about it changes. */
const countAgain = (row: StoredRow, { by, days }: Counting): { line: ActivityLine; moved: boolean } | null => {
  const { status: waits, ...extra } = row.extra ?? {}
  const occurred = toldAt(row.occurredAt)
  if (occurred === null) throw new Error(`${row.lineId} was stored with a time that is none: ${row.occurredAt}`)
  const told = { occurred, paid: toldAt(extra.paid_at), sent: toldAt(extra.sent_at) }
  // A line that was held back said that it is available: what it waits for is kept with it.
  const { counts, status, held } = countedBy(by.dateBasis, {
    ...told,
    status: waits === undefined ? row.status : 'available',
  })
  const key = row.settlementId ?? dayKey(days.zone.businessDay(counts.instant, days.cutOff))
  const moved = days.zone.localDate(counts.instant) !== row.localDate || key !== row.settlementKey
  if (counts.instant === row.counts && status === row.status && !moved) return null
  const {
    counts: _,
    settlementKey: __,
    posted: ___,
    digest: ____,
    person: _____,
    localDate: ______,
    rest,
    ...line
  } = row
  return {
    moved,
    line: {
      ...line,
      instant: counts.instant,
      status,
      extra: { ...rest, ...extra },
      ...(counts === occurred ? {} : { countsAt: counts.text }),
      ...(held && { held: true as const }),
    },
  }
}

/** Goes through a source's lines; `take` is told of each that counts otherwise. Returns how many there are. */
const eachChanged = async (
  tx: Transaction,
  of: Counting,
  take: (line: ActivityLine, row: StoredRow, moved: boolean) => void | Promise<void>,
): Promise<number> => {
  let after = ''
  for (let lines = 0; ; ) {
    const rows = await readLines(tx, of.source, after)
    for (const row of rows) {
      const changed = countAgain(row, of)
      if (changed) await take(changed.line, row, changed.moved)
    }
    lines += rows.length
    of.counted?.(rows.length)
    after = rows.at(-1)?.lineId ?? after
    if (rows.length < batchLines) return lines
  }
}

/** What counting otherwise would do, without doing it. */
export const effectOf = async (tx: Transaction, of: Counting): Promise<BasisEffect> => {
  const effect = { moved: 0, waiting: 0, released: 0 }
  const posted = new Set<string>()
  const lines = await eachChanged(tx, of, (line, row, moved) => {
    if (moved) effect.moved++
    if (line.status === 'pending' && row.status !== 'pending') effect.waiting++
    if (line.status !== 'pending' && row.status === 'pending') effect.released++
    if (row.posted) posted.add(JSON.stringify([row.settlementKey, row.currency]))
  })
  return { lines, ...effect, posted: posted.size }
}

/** Counts a source's lines anew: each that counts otherwise gets a revision, as if the source had told it anew. Read from `reader`, since the store is at work on its own. */
export const countAnew = (reader: Transaction, store: ActivityStore, of: Counting): Promise<number> =>
  eachChanged(reader, of, (line, { digest, person }) => store.add(line, { digest, person }))
