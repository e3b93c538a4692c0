import { randomUUID } from 'node:crypto'
import { Readable } from 'node:stream'
import type { StatementOutcome } from '@culvert/contract'
import {
  type BankColumn,
  type BankLine,
  bankColumns,
  type Columns,
  camtReader,
  FaultList,
  readBankRow,
  readColumns,
} from '@culvert/core'
import { SaxesParser } from 'saxes'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { refuseOn } from '../sources/fileRefused.ts'
import { beginPull, endPull } from '../sources/pullLog.ts'
import { readTable } from '../sources/readTable.ts'
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
const readStatement = async (body: Readable, faults: FaultList): Promise<BankLine[]> => {
  const chunks = body[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  let head = Buffer.alloc(0)
  while (
    head
      .toString('utf8')
      .replace(/^\uFEFF/, '')
      .trim() === ''
  ) {
    const next = await chunks.next()
    if (next.done) break
    head = Buffer.concat([head, Buffer.from(next.value)])
  }
  const whole = Readable.from(
    (async function* () {
      yield head
      for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield next.value
    })(),
  )
  const isXml = head
    .toString('utf8')
    .replace(/^\uFEFF/, '')
    .trimStart()
    .startsWith('<')
  return isXml ? readCamt(whole, faults) : readBankCsv(whole, faults)
}

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
  parser.on('opentag', tag =>
    reader.take(
      { type: 'open', name: local(tag.name), attributes: tag.attributes as Record<string, string> },
      parser.line,
    ),
  )
  parser.on('text', text => reader.take({ type: 'text', text }, parser.line))
  parser.on('closetag', tag => reader.take({ type: 'close', name: local(tag.name) }, parser.line))
  parser.on('error', () => {
    if (!broken) faults.add({ row: parser.line, column: null, value: '', code: 'not_xml' })
    broken = true
  })
  const decoder = new TextDecoder('utf-8')
  for await (const chunk of body as AsyncIterable<Buffer>) {
    parser.write(decoder.decode(chunk, { stream: true }))
    if (broken) break
  }
  if (!broken) parser.close()
  return broken ? [] : reader.end(parser.line)
}
