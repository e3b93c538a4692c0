import { isUtf8 } from 'node:buffer'
import type { Readable } from 'node:stream'
import { columnQuestion, type FileLook, savedColumns } from '@culvert/contract'
import {
  FaultList,
  proposeBankChoice,
  proposeChoice,
  proposeColumns,
  proposeRowChoice,
  type RowsOf,
  rowsOfHead,
  type SourceShape,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type ColumnsOf, loadSaved } from './columns.ts'
import { encodings, isEncoding, markedEncoding, textIn } from './encoding.ts'
import { readTable } from './readTable.ts'
import { isWorkbook, readWorkbook } from './readWorkbook.ts'
import { type FileFormat, formatOf, ownSortOf } from './recognise.ts'
import type { TableReader } from './tableReader.ts'

/** Rows that are shown, and bytes by which a file is known. */
const mostShown = 5_000
const headBytes = 65_536
/** Characters of the rows that are shown, in all. */
const mostShownText = 4_000_000

interface Asked {
  readonly open: () => Readable
  readonly of: ColumnsOf | null
  readonly encoding: string | null
  readonly sheet: string | null
  /** What somebody says that the rows of a source's file are; null: nobody has. */
  readonly as: 'activity' | RowsOf | null
}

const startOf = async (body: Readable): Promise<Buffer> => {
  const parts: Buffer[] = []
  let bytes = 0
  for await (const chunk of body as AsyncIterable<Buffer>) {
    parts.push(chunk)
    bytes += chunk.length
    if (bytes >= headBytes) break
  }
  return Buffer.concat(parts)
}

/** Looks at a file: what it is, its first rows, and what its columns were said to mean, or are proposed to. Stores nothing. @throws FileRefused where it has no rows */
export const lookAtFile = async (tx: Transaction, asked: Asked): Promise<FileLook> => {
  const start = await startOf(asked.open())
  const encoding =
    markedEncoding(start) ?? (asked.encoding !== null && isEncoding(asked.encoding) ? asked.encoding : null)
  const format = formatOf(textIn(start.subarray(0, 8192), encoding ?? 'utf-8'), isWorkbook(start))
  const none = { encodings: [], sheets: [], header: [], rows: [], count: 0, saved: null, proposed: null }
  if (format === 'other') return { ...none, sort: 'unknown', format }
  if (format !== 'csv' && format !== 'xlsx') return { ...none, sort: 'bank', format }
  const table = await readSample(asked, format)
  const unclear = format === 'csv' && encoding === null ? unclearIn(table, start) : []
  const own = ownSortOf(table.header)
  const common = { ...none, format, encodings: unclear, ...table }
  if (own !== null) return { ...common, sort: own }
  const said = await loadSaved(tx, asked.of, table.header)
  const saved = asked.as !== null && said?.of !== asked.as ? null : said
  return { ...common, sort: 'table', saved, proposed: await proposalFor(tx, asked, table) }
}

const readSample = async (
  { open, encoding, sheet }: Asked,
  format: FileFormat,
): Promise<Pick<FileLook, 'header' | 'rows' | 'count' | 'sheets'>> => {
  const faults = new FaultList()
  const sheets: string[] = []
  const rows: string[][] = []
  let header: string[] = []
  let count = 0
  let text = 0
  const reader: TableReader = {
    header: names => {
      header = [...names]
    },
    row: fields => {
      count++
      text += fields.reduce((sum, field) => sum + field.length, 0)
      if (rows.length < mostShown && text < mostShownText) rows.push([...fields])
    },
  }
  if (format === 'xlsx') await readWorkbook(open(), { reader, faults, sheet, sheets: name => sheets.push(name) })
  else await readTable(open(), reader, faults, { encoding })
  // What is no UTF-8 is asked about; everything else that is wrong with it is told.
  if (faults.shown.some(fault => fault.code !== 'not_utf8')) refuseOn(faults)
  return { header, rows, count, sheets }
}

// How the first odd line reads in each: whoever knows the names in it sees which is right.
const unclearIn = ({ rows, header }: Pick<FileLook, 'rows' | 'header'>, start: Buffer): FileLook['encodings'] => {
  const odd = [header, ...rows].some(row => row.some(field => field.includes('\uFFFD')))
  if (!odd) return []
  const lines: Buffer[] = []
  for (let from = 0; from < start.length; ) {
    const end = start.indexOf(0x0a, from)
    lines.push(start.subarray(from, end < 0 ? start.length : end))
    from = end < 0 ? start.length : end + 1
  }
  const line = lines.find(one => !isUtf8(one)) ?? start.subarray(0, 200)
  return encodings
    .filter(encoding => encoding !== 'utf-8')
    .map(encoding => ({ encoding, sample: textIn(line.subarray(0, 300), encoding).trim() }))
}

const proposalFor = async (
  tx: Transaction,
  asked: Asked,
  { header, rows }: Pick<FileLook, 'header' | 'rows'>,
): Promise<FileLook['proposed']> => {
  const { of, encoding, sheet } = asked
  const told = { encoding, sheet }
  if (of?.subject === 'account') {
    const { choice, questions } = proposeBankChoice(header, rows)
    return {
      said: {
        of: 'bank',
        choice: { ...choice, account: of.key, currency: await currencyOf(tx, of.key), columns: [...choice.columns] },
        ...told,
      },
      questions: questions
        .filter(one => one.code !== 'account' && one.code !== 'currency')
        .map(one => columnQuestion.parse(one)),
    }
  }
  const rowsOf = of?.subject === 'source' ? (asked.as ?? rowsOfHead(header, rows)) : null
  if (rowsOf === 'settlements' || rowsOf === 'balances') return { ...rowProposal(rowsOf, header, rows, told) }
  if (of?.subject === 'source' || !looksLikeBank(header, rows)) {
    const facts = await factsFor(tx, of?.key ?? '')
    const { choice, questions } = proposeChoice(header, rows, facts)
    return { said: { of: 'activity', choice, ...told }, questions: questions.map(one => columnQuestion.parse(one)) }
  }
  const { choice, questions } = proposeBankChoice(header, rows)
  return {
    said: { of: 'bank', choice: { ...choice, columns: [...choice.columns] }, ...told },
    questions: questions.map(one => columnQuestion.parse(one)),
  }
}

const rowProposal = (
  of: RowsOf,
  header: readonly string[],
  rows: readonly (readonly string[])[],
  told: { readonly encoding: string | null; readonly sheet: string | null },
): NonNullable<FileLook['proposed']> => {
  const { choice, questions } = proposeRowChoice(of, header, rows)
  const said = savedColumns.parse({ of, choice, ...told })
  return { said, questions: questions.map(one => columnQuestion.parse(one)) }
}

// More of its columns are known as a bank's than as a shop's.
const looksLikeBank = (header: readonly string[], rows: readonly (readonly string[])[]): boolean => {
  const known = (of: 'bank' | 'activity') =>
    proposeColumns(of, header, rows).filter(one => one.meaning !== null && one.sure).length
  const balances = proposeColumns('bank', header, rows).some(one => one.meaning === 'balance')
  return known('bank') > known('activity') || (balances && known('bank') === known('activity'))
}

const currencyOf = async (tx: Transaction, account: string): Promise<string | null> => {
  const [row] = await rowsOf(
    tx,
    { currency: is.text },
    sql`SELECT currency FROM account WHERE client_id = current_client() AND code = ${account}`,
  )
  return row?.currency ?? null
}

const factsFor = async (tx: Transaction, source: string): Promise<{ shape: SourceShape; timeZone: string }> =>
  oneRow(
    tx,
    { shape: is.oneOf('combined', 'channel', 'gateway'), timeZone: is.text },
    sql`SELECT coalesce((SELECT shape FROM source WHERE client_id = current_client() AND source = ${source}), 'gateway') AS shape,
      time_zone AS "timeZone" FROM client WHERE client_id = current_client()`,
  )
