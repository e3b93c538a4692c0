import { isUtf8 } from 'node:buffer'
import { Readable } from 'node:stream'
import { type FaultList, separatorOf } from '@culvert/core'
import { CsvError, parse } from 'csv-parse'
import { asUtf8, markedEncoding } from './encoding.ts'
import { goingOn } from './readStart.ts'
import { isWorkbook, readWorkbook } from './readWorkbook.ts'
import { maxRecordBytes, type TableReader, type TableTold } from './tableReader.ts'

/**
 * Streams a CSV (comma, semicolon or tab; CRLF or LF; with or without BOM), or a sheet of an XLSX, into `reader`. What is neither, a record over
 * 1 MB among it, becomes a fault with its row. Memory stays within one record.
 */
export const readTable = async (
  input: Readable,
  reader: TableReader,
  faults: FaultList,
  told: TableTold = {},
): Promise<void> => {
  const raw = input[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  const begin = await readHead(raw)
  if (begin.length === 0) {
    faults.add({ row: 1, column: null, value: '', code: 'no_rows' })
    return
  }
  if (isWorkbook(begin)) return readWorkbook(goingOn(begin, raw), { reader, faults, sheet: told.sheet ?? null })
  const encoding = markedEncoding(begin) ?? told.encoding ?? null
  if (encoding === null || encoding === 'utf-8') return readCsv(begin, raw, reader, faults)
  const chunks = asUtf8(goingOn(begin, raw), encoding)[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  return readCsv(await readHead(chunks), chunks, reader, faults)
}

const readCsv = async (
  start: Buffer,
  chunks: AsyncIterator<Buffer>,
  reader: TableReader,
  faults: FaultList,
): Promise<void> => {
  const headerLine = start.toString('utf8').split(/\r?\n/, 1)[0] ?? ''
  const parser = parse({
    bom: true,
    delimiter: separatorOf(headerLine),
    max_record_size: maxRecordBytes,
    relax_column_count: true,
    skip_empty_lines: true,
    record_delimiter: ['\r\n', '\n'],
  })
  const encoding = new EncodingCheck()
  const whole = (async function* () {
    encoding.look(start)
    yield start
    for (let next = await chunks.next(); !next.done; next = await chunks.next()) {
      encoding.look(next.value)
      yield next.value
    }
    encoding.end()
  })()
  const decoded = Readable.from(whole)
  decoded.on('error', error => parser.destroy(error))
  let row = 0
  let names: readonly string[] = []
  try {
    for await (const record of decoded.pipe(parser) as AsyncIterable<string[]>) {
      row++
      if (row === 1) names = record
      if (encoding.broken) noteUnreadable(record, { row, names }, faults)
      if (row === 1) {
        const waiting = reader.header(record)
        if (waiting) await waiting
      } else {
        const waiting = reader.row(record, row)
        if (waiting) await waiting
      }
      if (row === 1 && faults.count > 0) break
    }
  } catch (error) {
    if (!(error instanceof CsvError)) throw error
    const code = error.code === 'CSV_MAX_RECORD_SIZE' ? 'record_too_long' : 'not_csv'
    faults.add({ row: row + 1, column: null, value: '', code })
  } finally {
    decoded.destroy()
  }
  if (row <= 1 && faults.count === 0) faults.add({ row: row + 1, column: null, value: '', code: 'no_rows' })
}

// Enough of the file to see its first line, or its first 64 kB.
const readHead = async (chunks: AsyncIterator<Buffer>): Promise<Buffer> => {
  let head = Buffer.alloc(0)
  while (head.length < 65_536 && !head.includes('\n')) {
    const next = await chunks.next()
    if (next.done) break
    head = Buffer.concat([head, Buffer.from(next.value)])
  }
  return head
}

/** What a decoder puts in the place of bytes that are no UTF-8. */
const unreadable = '\uFFFD'

const noteUnreadable = (
  record: readonly string[],
  { row, names }: { row: number; names: readonly string[] },
  faults: FaultList,
): void => {
  for (const [index, value] of record.entries())
    if (value.includes(unreadable)) faults.add({ row, column: names[index] ?? null, value, code: 'not_utf8' })
}

// Looks at chunks before they are parsed, which costs next to nothing; only once one is broken are fields looked at.
class EncodingCheck {
  broken = false
  private cut = Buffer.alloc(0)

  look(chunk: Buffer): void {
    if (this.broken) return
    const bytes = this.cut.length > 0 ? Buffer.concat([this.cut, chunk]) : chunk
    const whole = bytes.length - cutCharacter(bytes)
    this.cut = Buffer.from(bytes.subarray(whole))
    this.broken = !isUtf8(bytes.subarray(0, whole))
  }
  end(): void {
    if (this.cut.length > 0) this.broken = true
  }
}

/** Bytes at the end that begin a character and do not end it. */
const cutCharacter = (bytes: Buffer): number => {
  for (let back = 1; back <= Math.min(3, bytes.length); back++) {
    const byte = bytes[bytes.length - back] as number
    if (byte < 0x80) return 0
    if (byte >= 0xc0) return (byte >= 0xf0 ? 4 : byte >= 0xe0 ? 3 : 2) > back ? back : 0
  }
  return 0
}
