import { hash } from 'node:crypto'
import { once } from 'node:events'
import { finished } from 'node:stream/promises'
import type { ActivityLine, Zone } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { from as copyFrom } from 'pg-copy-streams'
import type { Transaction } from '../database/connect.ts'
import { dayKey } from '../settlements/settlementKey.ts'

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
const field = (value: string | number | null): string => {
  if (value === null) return '\\N'
  if (typeof value === 'number') return String(value)
  return escaped.test(value) ? value.replace(/[\\\t\n\r]/g, mark => escapes[mark] as string) : value
}

/** A line as a record of COPY's text format, with the dates and digest that are made at import. */
export const copyRecord = (line: ActivityLine, zone: Zone, cutOffMinutes: number): string => {
  const key = line.settlementId ?? dayKey(zone.businessDay(line.instant, cutOffMinutes))
  // What the source said, in the columns' order, escaped once: it is written as it is, and digested.
  const said = [
    line.kind,
    line.orderId,
    line.gateway,
    line.method,
    line.category,
    line.sku,
    line.description,
    line.quantity,
    line.unitPrice,
    line.location,
    line.region,
    line.customer,
    line.email,
    line.shipTo,
    line.amount,
    line.taxAmount,
    line.taxLabel,
    line.relatedId,
    line.status,
    line.availableAt,
    line.url,
    extraOf(line),
  ]
    .map(field)
    .join('\t')
  const id = field(line.lineId)
  const at = field(line.occurredAt)
  const settlement = field(line.settlementId)
  const hash = contentHash(`${id}\t${settlement}\t${line.currency}\t${at}\t${said}`)
  const localDate = zone.localDate(line.instant)
  return `${id}\t${settlement}\t${field(key)}\t${line.currency}\t${at}\t${at}\t${localDate}\t${said}\t${hash}\n`
}

const extraOf = ({ extra }: ActivityLine): string | null => {
  for (const _ in extra) return JSON.stringify(extra)
  return null
}

/** First 52 bits of a SHA-1 digest: whole and safe in a number. */
export const contentHash = (text: string): number => Number.parseInt(hash('sha1', text).slice(0, 13), 16)

/** Takes records for the staging table; waits where the database is slower than the file. */
export interface StageWriter {
  write(record: string): void | Promise<void>
  end(): Promise<void>
}

const chunkSize = 262_144

/** Opens COPY into the staging table. Nothing else may be asked on the transaction until `end`. */
export const openStage = (tx: Transaction): StageWriter => {
  const names = columns.map(name => `"${name}"`).join(', ')
  const stream = tx.$client.query(copyFrom(`COPY incoming (${names}) FROM STDIN`))
  let chunk: string[] = []
  let length = 0
  let failure: Error | null = null
  stream.on('error', error => {
    failure = error
  })
  const flush = (): void | Promise<void> => {
    if (failure) throw failure
    const full = stream.write(chunk.join(''))
    chunk = []
    length = 0
    if (!full) return Promise.race([once(stream, 'drain'), once(stream, 'error')]).then(() => undefined)
  }
  return {
    write: record => {
      chunk.push(record)
      length += record.length
      if (length > chunkSize) return flush()
    },
    end: async () => {
      await flush()
      stream.end()
      await finished(stream)
    },
  }
}
