import { createReadStream, existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import {
  type ActivityLine,
  activityColumns,
  type BankLine,
  bankColumns,
  expectedText,
  FaultList,
  readActivityRow,
  readBankRow,
  readColumns,
  readSettlementRow,
  type SettlementHead,
  settlementColumns,
} from '@culvert/core'
import { readTable } from '../files/readTable.ts'
import { readExampleSetup } from './exampleSetup.ts'
import type { ExampleInput } from './runExample.ts'

const failOn = (faults: FaultList, file: string): void => {
  const [first] = faults.shown
  if (first)
    throw new Error(`${file} row ${first.row} ${first.column ?? ''}: “${first.value}”, expected ${expectedText(first)}`)
}

/** Reads every row of a CSV file. @throws Error naming the first fault. */
const readRows = async <Name extends string, Row>(
  path: string,
  expected: { known: readonly Name[]; required: readonly Name[] } & { id?: (row: Row) => string },
  readRow: (
    record: readonly string[],
    context: { columns: ReturnType<typeof readColumns<Name>>; row: number; faults: FaultList },
  ) => Row | null,
): Promise<Row[]> => {
  const faults = new FaultList()
  const rows: Row[] = []
  const ids = new Set<string>()
  let columns: ReturnType<typeof readColumns<Name>> | null = null
  await readTable(
    createReadStream(path),
    {
      header: header => {
        columns = readColumns(header, expected, faults)
      },
      row: (record, row) => {
        const read = columns && readRow(record, { columns, row, faults })
        if (!read) return
        const id = expected.id?.(read)
        // As an upload does: an id stands for one line.
        if (id !== undefined && ids.has(id)) faults.add({ row, column: 'line_id', value: id, code: 'twice_in_file' })
        if (id !== undefined) ids.add(id)
        rows.push(read)
      },
    },
    faults,
  )
  failOn(faults, path)
  return rows
}

/** Reads a worked example's folder. @throws Error where a file in it is broken. */
export const readExample = async (folder: string): Promise<ExampleInput> => {
  const example = readExampleSetup(JSON.parse(readFileSync(join(folder, 'setup.json'), 'utf8')))
  const files = readdirSync(folder)
  const lines: ActivityLine[] = []
  const heads = new Map<string, SettlementHead[]>()
  for (const file of files.filter(name => name.endsWith('.activity.csv')).sort()) {
    const source = file.slice(0, -'.activity.csv'.length)
    const dateBasis = example.setup.sources.get(source)?.options.dateBasis ?? 'order'
    lines.push(
      ...(await readRows(
        join(folder, file),
        { ...activityColumns, id: (line: ActivityLine) => line.lineId },
        (record, context) => readActivityRow(record, { ...context, source, dateBasis }),
      )),
    )
  }
  for (const file of files.filter(name => name.endsWith('.settlements.csv')))
    heads.set(
      file.slice(0, -'.settlements.csv'.length),
      await readRows(join(folder, file), settlementColumns, readSettlementRow),
    )
  const bank = join(folder, 'bank.csv')
  const bankLines: BankLine[] | null = existsSync(bank)
    ? await readRows(bank, { ...bankColumns, id: (line: BankLine) => line.lineId }, readBankRow)
    : null
  return { example, lines, heads, bankLines }
}
