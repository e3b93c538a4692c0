import { randomUUID } from 'node:crypto'
import { Readable } from 'node:stream'
import type { StatementOutcome } from '@culvert/contract'
import {
  type BankColumn,
  type BankLine,
  bankColumns,
  type Columns,
  camtReader,
  type FaultCode,
  FaultList,
  readBankRow,
  readColumns,
} from '@culvert/core'
import { SaxesParser } from 'saxes'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { refuseOn } from '../sources/fileRefused.ts'
import { beginPull, endPull } from '../sources/pullLog.ts'
import { maxRecordBytes, readTable } from '../sources/readTable.ts'
import { importBankLines } from './importBankLines.ts'

/** Brings in a bank statement, camt.053 or CSV, whole or not at all. @throws FileRefused with every fault found. */
export const uploadStatement = async (
  database: Database,
  actor: Actor,
  upload: { readonly name: string; readonly body: Readable },
): Promise<StatementOutcome> => {
  const faults = new FaultList()
  const lines = await readStatement(upload.body, faults)
  refuseOn(faults)
  return asClient(database, actor, async tx => {
    const pullId = randomUUID()
    await beginPull(tx, actor, { pullId, sort: 'statement', source: 'bank', state: 'running', message: upload.name })
    const outcome = await importBankLines(tx, lines, { pullId, faults })
    await endPull(tx, pullId, {
      state: 'done',
      message: upload.name,
      counts: { added: outcome.added, revised: 0, same: outcome.same },
    })
    return outcome
  })
}

/** Reads a statement's lines; which format it is, its first character says. */
export const readStatement = async (body: Readable, faults: FaultList): Promise<BankLine[]> => {
  const chunks = body[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  const head = await readFirst(chunks)
  const whole = Readable.from(
    (async function* () {
      yield head
      for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield next.value
    })(),
  )
  return head.toString('utf8').startsWith('<') ? readCamt(whole, faults) : readBankCsv(whole, faults)
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

const readBankCsv = async (body: Readable, faults: FaultList): Promise<BankLine[]> => {
  const lines: BankLine[] = []
  const ids = new Set<string>()
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
        const id = `${line.bankAccount} ${line.lineId}`
        if (ids.has(id)) faults.add({ row, column: 'line_id', value: line.lineId, code: 'twice_in_file' })
        ids.add(id)
        lines.push(line)
      },
    },
    faults,
  )
  return lines
}

const readCamt = async (body: Readable, faults: FaultList): Promise<BankLine[]> => {
  const reader = camtReader(faults)
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
    if (broken) break
  }
  if (!broken) parser.close()
  return broken ? [] : reader.end(parser.line)
}

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
