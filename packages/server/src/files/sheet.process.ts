import { once } from 'node:events'
import { writeSync } from 'node:fs'
import ExcelJS from 'exceljs'

/*
 * Reads a workbook in a process of its own, which whoever started it ends when it takes too long or too much: one line of JSON for each sheet's name, and of the
 * wanted sheet (the first, where none is named) one for each row. The last line says that it came to the end.
 */
const [path, wanted] = process.argv.slice(2)
if (!path) throw new Error('usage: sheet.process PATH [SHEET]')

/** Cells that a row may have, and texts that a workbook may share: beyond them it is no list of movements. */
const mostCells = 2_000
const mostTexts = 1_000_000

const two = (part: number): string => String(part).padStart(2, '0')
const dateText = (date: Date): string => {
  const day = date.toISOString().slice(0, 10)
  const clock = [date.getUTCHours(), date.getUTCMinutes(), date.getUTCSeconds()]
  return clock.every(part => part === 0) ? day : `${day} ${clock.map(two).join(':')}`
}
// As the sheet shows it: 0.1 + 0.2 is kept with more digits than it has.
const numberText = (number: number): string => {
  const text = String(Number(number.toPrecision(15)))
  return text.includes('e') ? number.toFixed(20).replace(/\.?0+$/, '') : text
}

const cellText = (value: unknown): string => {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? '' : dateText(value)
  if (typeof value === 'number') return numberText(value)
  if (typeof value === 'string' || typeof value === 'boolean') return String(value)
  if (typeof value !== 'object') return ''
  const parts = value as {
    richText?: { text: string }[]
    text?: unknown
    result?: unknown
    hyperlink?: unknown
    error?: string
  }
  if (Array.isArray(parts.richText)) return parts.richText.map(part => part.text).join('')
  if ('result' in parts) return cellText(parts.result)
  if ('text' in parts) return cellText(parts.text)
  return parts.error ?? ''
}

const write = async (line: unknown): Promise<void> => {
  if (!process.stdout.write(`${JSON.stringify(line)}\n`)) await once(process.stdout, 'drain')
}

const read = async (): Promise<void> => {
  const workbook = new ExcelJS.stream.xlsx.WorkbookReader(path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
    hyperlinks: 'ignore',
    entries: 'ignore',
  })
  let taken = false
  for await (const sheet of workbook) {
    const { name } = sheet as unknown as { name: string }
    await write({ sheet: name })
    const isWanted = !taken && (wanted === undefined || wanted === name)
    if (((workbook as unknown as { sharedStrings?: unknown[] }).sharedStrings?.length ?? 0) > mostTexts)
      throw new Error('too many texts')
    if (!isWanted) {
      // It has to be read past all the same.
      for await (const _ of sheet);
      continue
    }
    taken = true
    for await (const row of sheet) {
      const cells: string[] = []
      const most = Math.min(row.cellCount, mostCells)
      for (let at = 1; at <= most; at++) cells.push(cellText(row.getCell(at).value))
      await write({ row: row.number, cells })
    }
  }
  await write({ end: true })
}

read().catch((error: unknown) => {
  writeSync(2, error instanceof Error ? error.message : 'unreadable')
  process.exitCode = 1
})
