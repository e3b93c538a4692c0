import type { Readable } from 'node:stream'
import { type FaultList, referenceRates } from '@culvert/core'
import { SaxesParser } from 'saxes'
import { goingOn, readStart } from './readStart.ts'
import { readTable } from './readTable.ts'
import type { TableTold } from './tableReader.ts'

/** Rows that a list may have. */
const mostRows = 50_000
/** Bytes of XML that are read of a list. */
const mostXmlBytes = 40_000_000

export interface ListRecords {
  readonly header: readonly string[]
  readonly records: readonly (readonly [record: readonly string[], row: number])[]
}

/** Reads a list whole: a table, or the XML of reference rates. What is wrong with it is noted. */
export const readListRecords = async (body: Readable, told: TableTold, faults: FaultList): Promise<ListRecords> => {
  const chunks = body[Symbol.asyncIterator]() as AsyncIterator<Buffer>
  const start = await readStart(chunks)
  const whole = goingOn(start, chunks)
  if (
    start
      .subarray(0, 200)
      .toString('latin1')
      .replace(/^\xEF\xBB\xBF/, '')
      .startsWith('<')
  )
    return readRateXml(whole, faults)
  const records: (readonly [readonly string[], number])[] = []
  let header: readonly string[] = []
  await readTable(
    whole,
    {
      header: names => {
        header = names
      },
      row: (record, row) => {
        if (records.length === mostRows) faults.add({ row, column: null, value: '', code: 'too_many_rows' })
        if (records.length < mostRows) records.push([record, row])
      },
    },
    faults,
    told,
  )
  return { header, records }
}

// UTF-8 alone: it is what the schema is published in. No entity of its own is taken, and nothing is fetched.
const readRateXml = async (body: Readable, faults: FaultList): Promise<ListRecords> => {
  const reader = referenceRates()
  const parser = new SaxesParser({ fragment: false })
  let failed = false
  parser.on('error', () => {
    if (!failed) faults.add({ row: parser.line, column: null, value: '', code: 'not_xml' })
    failed = true
  })
  parser.on('doctype', () => {
    if (!failed) faults.add({ row: parser.line, column: null, value: 'DOCTYPE', code: 'not_xml' })
    failed = true
  })
  parser.on('opentag', ({ name, attributes }) => {
    if (reader.records.length < mostRows) reader.take({ name, attributes: attributes as Record<string, string> })
  })
  const decoder = new TextDecoder('utf-8', { fatal: true })
  let bytes = 0
  try {
    for await (const chunk of body as AsyncIterable<Buffer>) {
      bytes += chunk.byteLength
      if (bytes > mostXmlBytes) faults.add({ row: 1, column: null, value: '', code: 'file_too_large' })
      if (failed || bytes > mostXmlBytes) break
      parser.write(decoder.decode(chunk, { stream: true }))
    }
    if (!failed) parser.write(decoder.decode()).close()
  } catch {
    if (!failed) faults.add({ row: parser.line, column: null, value: '', code: 'not_utf8' })
  }
  if (faults.count === 0 && reader.records.length === 0)
    faults.add({ row: 1, column: null, value: '', code: 'no_rows' })
  return { header: reader.header, records: reader.records }
}
