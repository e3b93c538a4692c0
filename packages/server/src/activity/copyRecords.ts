import { finished } from 'node:stream/promises'
import { from as copyFrom } from 'pg-copy-streams'
import type { Transaction } from '../database/connect.ts'

const escaped = /[\\\t\n\r]/
const escapes: Record<string, string> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' }
/** A text as a field of COPY’s text format. */
export const field = (value: string | null): string => {
  if (value === null) return '\\N'
  return escaped.test(value) ? value.replace(/[\\\t\n\r]/g, mark => escapes[mark] as string) : value
}

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

/** Copies records into a table and its columns, as COPY names them. */
export const copyRecords = async (tx: Transaction, into: string, records: RecordBytes): Promise<void> => {
  const stream = tx.$client.query(copyFrom(`COPY ${into} FROM STDIN`))
  for (const block of records.taken()) stream.write(block)
  stream.end()
  await finished(stream)
}
