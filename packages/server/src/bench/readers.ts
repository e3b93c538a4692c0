import { createReadStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { addDays, FaultList, formatAmount } from '@culvert/core'
import ExcelJS from 'exceljs'
import { readStatement } from '../bank/readStatement.ts'
import { readWorkbook } from '../files/readWorkbook.ts'
import { mutatorOf } from '../testing/mutations.ts'
import { readersUnderTest, readFile } from '../testing/readers.ts'

export interface ReaderFigures {
  readonly taken: number
  readonly refused: number
  /** Files that gave neither rows nor faults, or an exception, as text. */
  readonly broken: readonly string[]
  readonly longest: number
}

/** Gives each reader `files` mutated files. */
export const meetMutatedFiles = async ({ files, seed }: { files: number; seed: number }): Promise<ReaderFigures> => {
  const mutator = mutatorOf(seed)
  const broken: string[] = []
  let [taken, refused, longest] = [0, 0, 0]
  for (let count = 0; count < files * readersUnderTest.length; count++) {
    const reader = readersUnderTest[count % readersUnderTest.length]
    if (!reader) continue
    const start = performance.now()
    try {
      const { rows, faults } = await readFile(reader, mutator.mutate(reader.seed))
      if (faults.count > 0) refused++
      else if (rows > 0) taken++
      else broken.push(`${reader.name}, file ${count}: neither rows nor faults`)
    } catch (error) {
      broken.push(`${reader.name}, file ${count}: ${error}`)
    }
    longest = Math.max(longest, performance.now() - start)
  }
  return { taken, refused, broken: broken.slice(0, 10), longest }
}

/** Offers a record of `megabytes` without an end, quoted in CSV and between two tags in XML. Returns what each reader said. */
export const meetEndlessRecord = async ({ megabytes }: { megabytes: number }) => {
  const starts: readonly (readonly [string, string])[] = [
    ['activity.csv', 'line_id,occurred_at,kind,currency,amount\n"'],
    ['camt.053', '<Document><BkToCstmrStmt><Stmt><Id>'],
  ]
  const said: { name: string; code: string; read: number }[] = []
  for (const [name, start] of starts) {
    const reader = readersUnderTest.find(one => one.name === name)
    const block = Buffer.alloc(1_000_000, 'a')
    let read = 0
    const body = Readable.from(
      (function* () {
        yield Buffer.from(start)
        for (; read < megabytes; read++) yield block
      })(),
    )
    const faults = new FaultList()
    await reader?.read(body, faults)
    said.push({ name, code: faults.shown[0]?.code ?? 'none', read })
  }
  return said
}

/** A workbook of a processor's list of 60 payments. */
const workbook = async (): Promise<Buffer> => {
  const book = new ExcelJS.Workbook()
  const sheet = book.addWorksheet('Payments')
  sheet.addRow(['When', 'Ref', 'Type', 'Gross', 'Fee', 'Cur'])
  for (let row = 0; row < 60; row++)
    sheet.addRow([new Date(Date.UTC(2026, 0, 5 + row)), `F-${row}`, 'Charge', 10 + row * 0.37, 0.3, 'EUR'])
  return Buffer.from(await book.xlsx.writeBuffer())
}

/** Gives the reader of workbooks `files` mutated ones, two at a time, each in a process of its own. */
export const meetMutatedWorkbooks = async ({
  files,
  seed,
}: {
  files: number
  seed: number
}): Promise<ReaderFigures> => {
  const mutator = mutatorOf(seed)
  const book = await workbook()
  const broken: string[] = []
  let [taken, refused, longest, next] = [0, 0, 0, 0]
  const lane = async (): Promise<void> => {
    while (next < files) {
      const count = next++
      const start = performance.now()
      const faults = new FaultList()
      let rows = 0
      try {
        const reader = {
          header: () => {
            rows++
          },
          row: () => {
            rows++
          },
        }
        await readWorkbook(Readable.from([mutator.mutate(book)]), { reader, faults, sheet: null })
        if (faults.count > 0) refused++
        else if (rows > 0) taken++
        else broken.push(`file ${count}: neither rows nor faults`)
      } catch (error) {
        broken.push(`file ${count}: ${error}`)
      }
      longest = Math.max(longest, performance.now() - start)
    }
  }
  await Promise.all([lane(), lane()])
  return { taken, refused, broken: broken.slice(0, 10), longest }
}

/** Writes a camt.053 of so many entries in one statement. Returns its bytes. */
export const writeCamt = async ({ path, entries }: { path: string; entries: number }): Promise<number> => {
  const file = await open(path, 'w')
  let bytes = 0
  const write = async (text: string): Promise<void> => {
    bytes += (await file.write(text)).bytesWritten
  }
  await write(
    '<?xml version="1.0" encoding="UTF-8"?>\n<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt><Id>1</Id><Acct><Id><IBAN>IE00TEST</IBAN></Id><Ccy>EUR</Ccy></Acct>\n',
  )
  const block = 1000
  for (let first = 0; first < entries; first += block)
    await write(
      Array.from({ length: Math.min(block, entries - first) }, (_, at) => {
        const place = first + at
        return `<Ntry><NtryRef>N${place}</NtryRef><Amt Ccy="EUR">${formatAmount(100 + (place % 90_000), 'EUR')}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>${addDays('2026-01-01', place % 300)}</Dt></BookgDt><NtryDtls><TxDtls><RmtInf><Ustrd>OPENHALL SETTL ${place}</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>`
      }).join('\n'),
    )
  await write('</Stmt></BkToCstmrStmt></Document>\n')
  await file.close()
  return bytes
}

/** Reads a statement from a file, counting its lines as they come. */
export const readLarge = async ({
  path,
}: {
  path: string
}): Promise<{ lines: number; faults: number; elapsed: number }> => {
  const faults = new FaultList()
  const start = performance.now()
  let lines = 0
  await readStatement(createReadStream(path), {
    faults,
    line: () => {
      lines++
    },
    statement: () => undefined,
    choiceOf: () => Promise.resolve(null),
  })
  return { lines, faults: faults.count, elapsed: performance.now() - start }
}
