import { hash } from 'node:crypto'
import { finished } from 'node:stream/promises'
import type { ActivityLine, Zone } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { from as copyFrom } from 'pg-copy-streams'
import type { Transaction } from '../database/connect.ts'
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
  'customer',
  'email',
  'ship_to',
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

const escaped = /[\\\t\n\r]/
const escapes: Record<string, string> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' }
/** A text as a field of COPY’s text format. */
export const field = (value: string | null): string => {
  if (value === null) return '\\N'
  return escaped.test(value) ? value.replace(/[\\\t\n\r]/g, mark => escapes[mark] as string) : value
}
const figure = (value: number | null): string => (value === null ? '\\N' : String(value))

/** A line as a record of COPY's text format, with the dates and digest that are made at import; `digest` where it is known already. */
export const copyRecord = (line: ActivityLine, zone: Zone, cutOffMinutes: number, digest?: number): string => {
  // What the source said, in the columns' order, escaped once: it is written as it is, and digested. Spelt out, not
  // mapped over a list: that took three times as long.
  const order = `${line.kind}\t${field(line.orderId)}\t${field(line.gateway)}\t${field(line.method)}`
  const item = `${field(line.category)}\t${field(line.sku)}\t${field(line.description)}\t${field(line.quantity)}\t${figure(line.unitPrice)}`
  const customer = `${field(line.location)}\t${field(line.region)}\t${field(line.customer)}\t${field(line.email)}\t${field(line.shipTo)}`
  const money = `${line.amount}\t${figure(line.taxAmount)}\t${field(line.taxLabel)}\t${field(line.relatedId)}`
  const rest = `${field(line.availableAt)}\t${field(line.url)}`
  const body = `${order}\t${item}\t${customer}\t${money}`
  const extra = extraOf(line.extra)
  const said = `${body}\t${line.held ? 'available' : line.status}\t${rest}\t${field(extra)}`
  const id = field(line.lineId)
  const settlement = field(line.settlementId)
  // The digest is of what the source said: by what its lines count is ours to say, and to change.
  const hash = digest ?? contentHash(`${id}\t${settlement}\t${line.currency}\t${line.occurredAt}\t${said}`)
  const stored = line.held
    ? `${body}\tpending\t${rest}\t${field(extraOf({ ...line.extra, status: 'available' }))}`
    : said
  const localDate = zone.localDate(line.instant)
  const key = line.settlementId === null ? dayKey(zone.businessDay(line.instant, cutOffMinutes)) : settlement
  return `${id}\t${settlement}\t${key}\t${line.currency}\t${line.countsAt ?? line.occurredAt}\t${line.occurredAt}\t${localDate}\t${stored}\t${hash}\n`
}

const extraOf = (extra: ActivityLine['extra']): string | null => {
  for (const _ in extra) return JSON.stringify(extra)
  return null
}

/** First 52 bits of a SHA-1 digest: whole and safe in a number. */
export const contentHash = (text: string): number => Number.parseInt(hash('sha1', text).slice(0, 13), 16)

/** Gathers records as bytes, outside the heap: thousands of texts that wait for their turn keep the collector busy. */
export class RecordBytes {
  lines = 0
  length = 0
  private readonly blocks: Buffer[] = []
  private texts: string[] = []
  private textLength = 0

  add(record: string): void {
    this.texts.push(record)
    this.textLength += record.length
    this.lines++
    if (this.textLength > blockLength) this.pack()
  }
  /** All blocks, in order. */
  taken(): readonly Buffer[] {
    this.pack()
    return this.blocks
  }
  private pack(): void {
    const block = Buffer.from(this.texts.join(''))
    this.texts = []
    this.textLength = 0
    this.length += block.length
    this.blocks.push(block)
  }
}
const blockLength = 65_536

/** Copies records into the staging table of activity. */
export const copyToStage = (tx: Transaction, records: RecordBytes): Promise<void> =>
  copyRecords(tx, `incoming (${columns.map(name => `"${name}"`).join(', ')})`, records)

/** Copies records into a table and its columns, as COPY names them. */
export const copyRecords = async (tx: Transaction, into: string, records: RecordBytes): Promise<void> => {
  const stream = tx.$client.query(copyFrom(`COPY ${into} FROM STDIN`))
  for (const block of records.taken()) stream.write(block)
  stream.end()
  await finished(stream)
}
