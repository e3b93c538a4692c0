import { spawn } from 'node:child_process'
import { createWriteStream, existsSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { fileURLToPath } from 'node:url'
import type { FaultList } from '@culvert/core'
import { z } from 'zod'
import { maxRecordBytes, type TableReader } from './tableReader.ts'

/** True for what begins as a ZIP does, which a workbook is. */
export const isWorkbook = (start: Buffer): boolean => start.subarray(0, 4).equals(Buffer.from([0x50, 0x4b, 0x03, 0x04]))

// Built, the code of the process stands next to ours; else it is the source, which needs a loader.
const built = fileURLToPath(new URL('./sheetProcess.js', import.meta.url))
const source = fileURLToPath(new URL('./sheet.process.ts', import.meta.url))

/** What a workbook may take: seconds for each 10 MB of it and at least so many, and MB of memory. */
const limits = { secondsEach10MB: 10, leastSeconds: 20, memoryMB: 384 }

const line = z.union([
  z.object({ sheet: z.string() }),
  z.object({ row: z.number(), cells: z.array(z.string()) }),
  z.object({ end: z.literal(true) }),
])

interface Wanted {
  readonly reader: TableReader
  readonly faults: FaultList
  /** Null: the first one. */
  readonly sheet: string | null
  /** Told of each sheet as it comes. */
  readonly sheets?: (name: string) => void
}

/** Reads a sheet of an XLSX in a process of its own: a bomb or a knot in it ends that process, and is a fault. */
export const readWorkbook = async (body: Readable, wanted: Wanted): Promise<void> => {
  const folder = await mkdtemp(join(tmpdir(), 'culvert-sheet-'))
  try {
    const path = join(folder, 'book.xlsx')
    let bytes = 0
    body.on('data', (chunk: Buffer) => {
      bytes += chunk.length
    })
    await pipeline(body, createWriteStream(path, { mode: 0o600 }))
    await readSheet(path, bytes, wanted)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

const readSheet = async (path: string, bytes: number, { reader, faults, sheet, sheets }: Wanted): Promise<void> => {
  const isBuilt = existsSync(built)
  const child = spawn(
    process.execPath,
    [
      `--max-old-space-size=${limits.memoryMB}`,
      ...(isBuilt ? [built] : ['--import', 'tsx', source]),
      path,
      ...(sheet === null ? [] : [sheet]),
    ],
    // It is given nothing of ours: no secret, no address.
    { stdio: ['ignore', 'pipe', 'pipe'], env: { PATH: process.env.PATH ?? '' } },
  )
  const seconds = Math.max(limits.leastSeconds, (bytes / 10_000_000) * limits.secondsEach10MB)
  const timer = setTimeout(() => child.kill('SIGKILL'), seconds * 1000)
  child.stderr.resume()
  let rows = 0
  let width = 0
  let ended = false
  let found = false
  try {
    for await (const text of createInterface({ input: child.stdout, crlfDelay: Number.POSITIVE_INFINITY })) {
      if (text.length > maxRecordBytes) {
        faults.add({ row: rows + 1, column: null, value: '', code: 'record_too_long' })
        break
      }
      const read = line.parse(JSON.parse(text))
      if ('end' in read) ended = true
      else if ('sheet' in read) {
        sheets?.(read.sheet)
        found ||= sheet === null || sheet === read.sheet
      } else if (read.cells.some(cell => cell.trim() !== '')) {
        rows++
        if (rows === 1) {
          width = trimmed(read.cells).length
          await reader.header(trimmed(read.cells))
          if (faults.count > 0) break
        } else await reader.row(widened(read.cells, width), read.row)
      }
    }
  } finally {
    clearTimeout(timer)
    child.kill('SIGKILL')
  }
  if (faults.count > 0) return
  if (!ended || !found) faults.add({ row: rows + 1, column: null, value: sheet ?? '', code: 'not_a_sheet' })
  else if (rows <= 1) faults.add({ row: rows + 1, column: null, value: '', code: 'no_rows' })
}

// A sheet keeps no empty cells at the end of a row.
const trimmed = (cells: readonly string[]): readonly string[] => {
  let last = cells.length
  while (last > 0 && (cells[last - 1] ?? '').trim() === '') last--
  return cells.slice(0, last)
}
const widened = (cells: readonly string[], width: number): readonly string[] => {
  const row = trimmed(cells)
  return row.length >= width ? row : [...row, ...new Array<string>(width - row.length).fill('')]
}
