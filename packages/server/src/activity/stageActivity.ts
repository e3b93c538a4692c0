import { hash } from 'node:crypto'
import { type ActivityLine, namesGoods, type Zone } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { Transaction } from '../database/connect.ts'
import { copyRecords, field, type RecordBytes } from './copyRecords.ts'
import { knownOf, type Persons } from './persons.ts'
import { dayKey } from './settlementKey.ts'

/** Columns of the staging table, in the order in which rows are written. */
const columns = [
  'line_id',
  'settlement_id',
  'settlement_key',
  'currency',
  'occurred_at',
  'occurred_text',
  'local_date',
  'kind',
  'order_id',
  'gateway',
  'method',
  'category',
  'sku',
  'description',
  'quantity',
  'unit_price',
  'location',
  'region',
  'person_id',
  'amount',
  'tax_amount',
  'tax_label',
  'related_id',
  'status',
  'available_at',
  'url',
  'extra',
  'content_hash',
] as const

export const stagedColumns = sql.raw(columns.map(name => `"${name}"`).join(', '))
export const stagedFrom = (alias: string) => sql.raw(columns.map(name => `${alias}."${name}"`).join(', '))

/** Makes the empty staging table; it goes with the transaction. */
export const makeStage = (tx: Transaction) =>
  tx.execute(
    sql`CREATE TEMPORARY TABLE incoming ON COMMIT DROP AS SELECT ${stagedColumns} FROM activity_line WHERE false`,
  )

const figure = (value: number | null): string => (value === null ? '\\N' : String(value))

/** How lines become records: the client's zone and cut-off, minutes after midnight, and the ids of its source's persons. */
export interface RecordedBy {
  readonly zone: Zone
  readonly cutOff: number
  readonly persons: Persons
}

/** What is known of a line that is stored already, and stays: the digest of what its source said, and whom it tells of. */
export interface KeptOfLine {
  readonly digest: number
  readonly person: string | null
}

/** A line as a record of COPY's text format, with the dates and digest that are made at import. */
export const copyRecord = (line: ActivityLine, { zone, cutOff, persons }: RecordedBy, kept?: KeptOfLine): string => {
  // What the source said, in the columns' order, escaped once: it is written as it is, and digested. Spelt out, not
  // mapped over a list: that took three times as long.
  const order = `${line.kind}\t${field(line.orderId)}\t${field(line.gateway)}\t${field(line.method)}`
  const goods = namesGoods(line.kind) ? line.description : null
  const item = `${field(line.category)}\t${field(line.sku)}\t${field(goods)}\t${field(line.quantity)}\t${figure(line.unitPrice)}`
  const person = kept === undefined ? persons.idOf(line) : kept.person
  const place = `${field(line.location)}\t${field(line.region)}\t${person ?? '\\N'}`
  const money = `${line.amount}\t${figure(line.taxAmount)}\t${field(line.taxLabel)}\t${field(line.relatedId)}`
  const rest = `${field(line.availableAt)}\t${field(line.url)}`
  const body = `${order}\t${item}\t${place}\t${money}`
  const told = knownOf(line.extra)
  const said = `${body}\t${line.held ? 'available' : line.status}\t${rest}`
  const id = field(line.lineId)
  const settlement = field(line.settlementId)
  // The digest is of what the source said: by what its lines count is ours to say, and to change. Of persons it holds their id alone.
  const digest =
    kept?.digest ??
    contentHash(
      `${id}\t${settlement}\t${line.currency}\t${line.occurredAt}\t${said}\t${field(told?.paid_at ?? null)}\t${field(told?.sent_at ?? null)}`,
    )
  const stored = line.held
    ? `${body}\tpending\t${rest}\t${field(JSON.stringify({ ...told, status: 'available' }))}`
    : `${said}\t${field(told === null ? null : JSON.stringify(told))}`
  const localDate = zone.localDate(line.instant)
  const key = line.settlementId === null ? dayKey(zone.businessDay(line.instant, cutOff)) : settlement
  return `${id}\t${settlement}\t${key}\t${line.currency}\t${line.countsAt ?? line.occurredAt}\t${line.occurredAt}\t${localDate}\t${stored}\t${digest}\n`
}

/** First 52 bits of a SHA-256 digest: whole and safe in a number. */
export const contentHash = (text: string): number => Number.parseInt(hash('sha256', text).slice(0, 13), 16)

/** Copies records into the staging table of activity. */
export const copyToStage = (tx: Transaction, records: RecordBytes): Promise<void> =>
  copyRecords(tx, `incoming (${columns.map(name => `"${name}"`).join(', ')})`, records)
