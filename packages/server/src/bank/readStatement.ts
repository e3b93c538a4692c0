import { Readable } from 'node:stream'
import {
  type BankColumn,
  type BankLine,
  bankColumns,
  type Columns,
  camtReader,
  type FaultCode,
  type FaultList,
  readBankRow,
  readColumns,
  type StatementReach,
} from '@culvert/core'
import { SaxesParser } from 'saxes'
import { SeenIds } from '../activity/seenIds.ts'
import { readTable } from '../files/readTable.ts'
import { maxRecordBytes } from '../files/tableReader.ts'

/** What a line that was read is handed to; a promise is waited for before the next is read. */
export type TakeLine = (line: BankLine, row: number) => void | Promise<void>

/** Reads a statement line by line; which format it is, its first character says. Returns up to when it tells of which account. */
export const readStatement = async (
  body: Readable,
  faults: FaultList,
  take: TakeLine,
): Promise<readonly StatementReach[]> => {
  const chunks = body[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  const head = await readFirst(chunks)
  const whole = Readable.from(
    (async function* () {
      yield head
      for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield next.value
    })(),
  )
  if (head.toString('utf8').startsWith('<')) return readCamt(whole, faults, take)
  await readBankCsv(whole, faults, take)
  return []
}

// The first bytes that say something, without a byte order mark and the blanks before them.
const readFirst = async (chunks: AsyncIterator<Buffer>): Promise<Buffer> => {
  let marked = false
  for (let next = await chunks.next(); !next.done; next = await chunks.next()) {
    const chunk = Buffer.from(next.value)
    const rest = !marked && chunk.subarray(0, 3).equals(byteOrderMark) ? chunk.subarray(3) : chunk
    marked = true
    const start = rest.findIndex(byte => byte > 0x20)
    if (start >= 0) return rest.subarray(start)
  }
  return Buffer.alloc(0)
}

const byteOrderMark = Buffer.from([0xef, 0xbb, 0xbf])

const readBankCsv = async (body: Readable, faults: FaultList, take: TakeLine): Promise<void> => {
  const ids = new SeenIds()
  let columns: Columns<BankColumn> | null = null
  await readTable(
    body,
    {
      header: header => {
        columns = readColumns(header, bankColumns, faults)
      },
      row: (record, row) => {
        const line = columns && readBankRow(record, { columns, row, faults })
        if (!line) return
        if (!ids.add(`${line.bankAccount} ${line.lineId}`))
          faults.add({ row, column: 'line_id', value: line.lineId, code: 'twice_in_file' })
        return take(line, row)
      },
    },
    faults,
  )
}

const readCamt = async (body: Readable, faults: FaultList, take: TakeLine): Promise<readonly StatementReach[]> => {
  // The parser calls back in the midst of a chunk; what has to be waited for is waited for before the next.
  const found: [BankLine, number][] = []
  const reader = camtReader(faults, (line, row) => found.push([line, row]))
  const parser = new SaxesParser()
  const local = (name: string): string => name.slice(name.indexOf(':') + 1)
  let broken = false
  let since = 0
  const refuse = (code: FaultCode): void => {
    if (!broken) faults.add({ row: parser.line, column: null, value: '', code })
    broken = true
  }
  parser.on('opentag', tag => {
    since = 0
    reader.take(
      { type: 'open', name: local(tag.name), attributes: tag.attributes as Record<string, string> },
      parser.line,
    )
  })
  parser.on('text', text => reader.take({ type: 'text', text }, parser.line))
  parser.on('closetag', tag => {
    since = 0
    reader.take({ type: 'close', name: local(tag.name) }, parser.line)
  })
  parser.on('error', () => refuse('not_xml'))
  const decoder = new TextDecoder('utf-8', { fatal: true })
  for await (const chunk of slices(body)) {
    // The parser keeps all text between two tags: without a bound a file of one endless text would fill the memory.
    since += chunk.length
    if (since > maxRecordBytes) refuse('record_too_long')
    const text = broken ? null : decodedOr(decoder, chunk)
    if (text === null) refuse('not_utf8')
    else parser.write(text)
    for (const [line, row] of found.splice(0)) await take(line, row)
    if (broken || faults.count >= mostFaults) break
  }
  if (!broken && faults.count < mostFaults) parser.close()
  for (const [line, row] of found.splice(0)) await take(line, row)
  return broken ? [] : reader.end(parser.line)
}

/** Faults after which a file is not read on. */
const mostFaults = 10_000

const sliceBytes = 65_536

const slices = async function* (body: Readable): AsyncGenerator<Buffer> {
  for await (const chunk of body as AsyncIterable<Buffer>)
    for (let start = 0; start < chunk.length; start += sliceBytes) yield chunk.subarray(start, start + sliceBytes)
}

const decodedOr = (decoder: TextDecoder, chunk: Buffer): string | null => {
  try {
    return decoder.decode(chunk, { stream: true })
  } catch {
    return null
  }
}
