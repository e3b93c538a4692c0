import type { Readable } from 'node:stream'
import {
  type BankChoice,
  type BankChoiceReader,
  type BankColumn,
  type BankCorrection,
  type BankLine,
  bankChoiceReader,
  bankColumns,
  type Columns,
  camtReader,
  type FaultCode,
  type FaultList,
  mt940Reader,
  ofxReader,
  RunningBalance,
  readBankRow,
  readColumns,
  type StatementHead,
  type StatementReach,
  StatementSum,
  sgmlEvents,
  type XmlEvent,
} from '@culvert/core'
import { SaxesParser } from 'saxes'
import { SeenIds } from '../activity/seenIds.ts'
import { markedEncoding } from '../files/encoding.ts'
import { goingOn, readStart } from '../files/readStart.ts'
import { readTable } from '../files/readTable.ts'
import { isWorkbook } from '../files/readWorkbook.ts'
import { type FileFormat, formatOf, isMostlyOurs, ownSortOf } from '../files/recognise.ts'
import { maxRecordBytes, type TableTold } from '../files/tableReader.ts'
import { declaredEncoding, decodedText, Undecodable } from './statementText.ts'

/** What is read of a statement is handed to this; a promise is waited for before the next line is read. */
export interface StatementTaker {
  readonly faults: FaultList
  readonly line: (line: BankLine, row: number) => void | Promise<void>
  readonly statement: (head: StatementHead) => void
  /** A line is replaced or deleted; absent where nobody asks. */
  readonly correction?: (correction: BankCorrection, row: number) => void
  /** What somebody has said of a file with such columns; null: nothing yet. */
  readonly choiceOf: (header: readonly string[]) => Promise<BankChoice | null>
}

/** What a statement was read as: lines of other formats are held against it by what they say. */
export type StatementFormat = Exclude<FileFormat, 'other' | 'xlsx'> | 'columns'

interface ReadAs {
  readonly format: StatementFormat
  /** Up to when it tells of which account. */
  readonly reaches: readonly StatementReach[]
}

/** Reads a statement line by line; which format it is, its first bytes say. */
export const readStatement = async (body: Readable, taker: StatementTaker, told: TableTold = {}): Promise<ReadAs> => {
  const chunks = body[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  const start = await readStart(chunks)
  const encoding = markedEncoding(start) ?? told.encoding ?? null
  const format = formatOf(await startText(start, encoding), isWorkbook(start))
  const whole = goingOn(start, chunks)
  const text = () => decodedText(whole, encoding ?? declaredEncoding(start) ?? 'utf-8')
  try {
    switch (format) {
      case 'camt':
        return { format, reaches: await readCamt(text(), taker) }
      case 'ofx':
        await readOfx(text(), taker)
        return { format, reaches: [] }
      case 'mt940':
        await readMt940(text(), taker)
        return { format, reaches: [] }
      default:
        return { format: await readColumnsOf(whole, taker, { ...told, encoding }), reaches: [] }
    }
  } catch (error) {
    if (!(error instanceof Undecodable)) throw error
    taker.faults.add({ row: 1, column: null, value: '', code: 'not_utf8' })
    return { format: format === 'camt' || format === 'ofx' || format === 'mt940' ? format : 'csv', reaches: [] }
  }
}

const startText = async (start: Buffer, encoding: string | null): Promise<string> =>
  new TextDecoder(encoding ?? 'utf-8').decode(start.subarray(0, 8192))

const readColumnsOf = async (body: Readable, taker: StatementTaker, told: TableTold): Promise<'csv' | 'columns'> => {
  const { faults } = taker
  const ids = new SeenIds()
  let columns: Columns<BankColumn> | null = null
  let foreign: ForeignStatement | null = null
  await readTable(
    body,
    {
      header: async header => {
        const choice = ownSortOf(header) === 'bank' ? null : await taker.choiceOf(header)
        const reader = choice && bankChoiceReader(choice, header, faults)
        if (reader) foreign = new ForeignStatement(reader)
        else if (isMostlyOurs(header, bankColumns.required)) columns = readColumns(header, bankColumns, faults)
        else faults.add({ row: 1, column: null, value: header.join(', '), code: 'unknown_head' })
      },
      row: (record, row) => {
        const line = foreign
          ? foreign.read(record, row, faults)
          : columns && readBankRow(record, { columns, row, faults })
        if (!line) return
        if (!ids.add(`${line.bankAccount} ${line.lineId}`))
          faults.add({ row, column: 'line_id', value: line.lineId, code: 'twice_in_file' })
        return taker.line(line, row)
      },
    },
    faults,
    told,
  )
  for (const head of (foreign as ForeignStatement | null)?.heads() ?? []) taker.statement(head)
  return foreign ? 'columns' : 'csv'
}

/** A statement in columns of its own: of each account its lines, and the balances that stand beside them. */
class ForeignStatement {
  private readonly accounts = new Map<string, { currency: string; sum: StatementSum; balances: RunningBalance }>()
  constructor(private readonly reader: BankChoiceReader) {}

  read(record: readonly string[], row: number, faults: FaultList): BankLine | null {
    const line = this.reader.read(record, row, faults)
    if (!line) return null
    const account = this.accounts.get(line.bankAccount) ?? {
      currency: line.currency,
      sum: new StatementSum(),
      balances: new RunningBalance(),
    }
    this.accounts.set(line.bankAccount, account)
    account.sum.add(line)
    account.balances.add(line.amount, this.reader.balanceOf(record))
    return line
  }

  heads(): readonly StatementHead[] {
    return [...this.accounts].map(([bankAccount, { currency, sum, balances }]) => {
      const stated = balances.stated()
      return {
        ...{ bankAccount, currency, number: '', from: sum.first, to: sum.last, lines: sum.lines, sum: sum.sum },
        ...{ opening: stated?.opening ?? null, closing: stated?.closing ?? null },
      }
    })
  }
}

/** Faults after which a file is not read on. */
const mostFaults = 10_000

/** Lines that a parser hands over in the midst of a chunk: what has to be waited for is waited for before the next. */
class Waiting {
  private readonly found: [BankLine, number][] = []
  constructor(private readonly taker: StatementTaker) {}
  readonly add = (line: BankLine, row: number): void => {
    this.found.push([line, row])
  }
  async hand(): Promise<void> {
    for (const [line, row] of this.found.splice(0)) await this.taker.line(line, row)
  }
}

const local = (name: string): string => name.slice(name.indexOf(':') + 1)

/** Hands the events of an XML to `take`. @returns whether it was whole */
const readXml = async (
  text: AsyncIterable<string>,
  {
    faults,
    take,
    after,
  }: { faults: FaultList; take: (event: XmlEvent, row: number) => void; after: () => Promise<void> },
): Promise<{ whole: boolean; row: number }> => {
  const parser = new SaxesParser()
  let broken = false
  let since = 0
  const refuse = (code: FaultCode): void => {
    if (!broken) faults.add({ row: parser.line, column: null, value: '', code })
    broken = true
  }
  parser.on('opentag', tag => {
    since = 0
    take({ type: 'open', name: local(tag.name), attributes: tag.attributes as Record<string, string> }, parser.line)
  })
  parser.on('text', piece => take({ type: 'text', text: piece }, parser.line))
  parser.on('closetag', tag => {
    since = 0
    take({ type: 'close', name: local(tag.name) }, parser.line)
  })
  parser.on('error', () => refuse('not_xml'))
  try {
    for await (const piece of text) {
      // The parser keeps all text between two tags: without a bound a file of one endless text would fill the memory.
      since += piece.length
      if (since > maxRecordBytes) refuse('record_too_long')
      else parser.write(piece)
      await after()
      if (broken || faults.count >= mostFaults) break
    }
    if (!broken && faults.count < mostFaults) parser.close()
  } catch (error) {
    if (!(error instanceof Undecodable)) throw error
    refuse('not_utf8')
  }
  await after()
  return { whole: !broken, row: parser.line }
}

const readCamt = async (text: AsyncIterable<string>, taker: StatementTaker): Promise<readonly StatementReach[]> => {
  const waiting = new Waiting(taker)
  const reader = camtReader(taker.faults, waiting.add, taker.statement)
  const { whole, row } = await readXml(text, {
    faults: taker.faults,
    take: (event, at) => reader.take(event, at),
    after: () => waiting.hand(),
  })
  return whole ? reader.end(row) : []
}

const readOfx = async (text: AsyncIterable<string>, taker: StatementTaker): Promise<void> => {
  const { faults } = taker
  const waiting = new Waiting(taker)
  const reader = ofxReader(faults, {
    found: waiting.add,
    statement: taker.statement,
    correction: (correction, at) => taker.correction?.(correction, at),
  })
  const take = (event: XmlEvent, row: number) => reader.take(event, row)
  const after = () => waiting.hand()
  const [head, pieces] = await withHead(text)
  if (/^\s*<\?xml/i.test(head)) {
    const { whole, row } = await readXml(pieces, { faults, take, after })
    if (whole) reader.end(row)
    return
  }
  let row = 1
  let rest = ''
  let begun = false
  const give = (piece: string): void => {
    for (const event of sgmlEvents(piece)) take(event, row)
    row += piece.split('\n').length - 1
  }
  try {
    for await (const piece of pieces) {
      rest += piece
      if (!begun) {
        const at = rest.indexOf('<')
        if (at < 0) continue
        row += rest.slice(0, at).split('\n').length - 1
        rest = rest.slice(at)
        begun = true
      }
      // A tag that is cut off waits for its end.
      const cut = rest.lastIndexOf('<')
      give(rest.slice(0, cut))
      rest = rest.slice(cut)
      if (rest.length > maxRecordBytes) {
        faults.add({ row, column: null, value: '', code: 'record_too_long' })
        return
      }
      await after()
      if (faults.count >= mostFaults) return
    }
  } finally {
    await after()
  }
  give(rest)
  reader.end(row)
  await after()
}

const withHead = async (text: AsyncIterable<string>): Promise<[string, AsyncIterable<string>]> => {
  const pieces = text[Symbol.asyncIterator]()
  const first = await pieces.next()
  const head = first.done ? '' : first.value
  return [
    head,
    (async function* () {
      yield head
      for (let next = await pieces.next(); !next.done; next = await pieces.next()) yield next.value
    })(),
  ]
}

const readMt940 = async (text: AsyncIterable<string>, taker: StatementTaker): Promise<void> => {
  const { faults } = taker
  const waiting = new Waiting(taker)
  const reader = mt940Reader(faults, { found: waiting.add, statement: taker.statement })
  let row = 0
  let rest = ''
  try {
    for await (const piece of text) {
      const lines = (rest + piece).split(/\r?\n/)
      rest = lines.pop() ?? ''
      for (const line of lines) reader.take(line, ++row)
      if (rest.length > maxRecordBytes) {
        faults.add({ row: row + 1, column: null, value: '', code: 'record_too_long' })
        return
      }
      await waiting.hand()
      if (faults.count >= mostFaults) return
    }
  } finally {
    await waiting.hand()
  }
  if (rest !== '') reader.take(rest, ++row)
  reader.end(row)
  await waiting.hand()
}
