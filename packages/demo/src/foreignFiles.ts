import { formatAmount } from '@culvert/core'
import excel from 'exceljs'
import type { Row } from './openhall.ts'

// What shops, processors and banks hand out in shapes of their own: for trying how any file is read. Made up, like all else here.

const comma = (amount: string): string => amount.replace('.', ',')
const minorOf = (row: Row): number => Math.round(Number(row.amount) * 100)
const dayMonthYear = (instant: string): string => instant.slice(0, 10).split('-').reverse().join('/')

const words: Readonly<Record<string, string>> = {
  collected: 'PURCHASE',
  collected_back: 'REFUND',
  payout: 'PAYOUT',
  chargeback: 'DISPUTE',
}

/** A processor's list: gross, fee and net of a payment in one row, with commas and days first. */
export const processorExport = (rows: readonly Row[]): string => {
  const fees = new Map(
    rows.filter(row => row.kind === 'processing_fee').map(row => [row.order_id, minorOf(row)] as const),
  )
  const records = rows.flatMap(row => {
    const word = words[row.kind as string]
    if (word === undefined) return []
    const gross = minorOf(row)
    const fee = row.kind === 'collected' ? (fees.get(row.order_id) ?? 0) : 0
    const amounts = [gross, fee, gross + fee].map(minor => comma(formatAmount(minor, 'CAD')))
    return [
      [dayMonthYear(row.occurred_at as string), row.order_id ?? '', word, ...amounts, row.currency ?? ''].join(';'),
    ]
  })
  return ['booked;merch_ref;type;amount;cost;settled;cur', ...records, ''].join('\r\n')
}

const yymmdd = (date: string): string => date.slice(2).replaceAll('-', '')

/** A bank's statement as MT940. Amounts in euro. */
export const mt940File = (account: string, opening: number, rows: readonly Row[]): string => {
  const balance = (minor: number, date: string) =>
    `${minor < 0 ? 'D' : 'C'}${yymmdd(date)}EUR${comma(formatAmount(Math.abs(minor), 'EUR'))}`
  const [first, last] = [rows[0]?.date as string, rows.at(-1)?.date as string]
  const closing = rows.reduce((sum, row) => sum + minorOf(row), opening)
  return [
    ':20:SKM',
    `:25:${account}`,
    ':28C:26/1',
    `:60F:${balance(opening, first)}`,
    ...rows.flatMap(row => [
      `:61:${yymmdd(row.date as string)}${minorOf(row) < 0 ? 'D' : 'C'}${comma(formatAmount(Math.abs(minorOf(row)), 'EUR'))}NTRFNONREF//${row.line_id}`,
      `:86:${row.description}`,
    ]),
    `:62F:${balance(closing, last)}`,
    '-',
    '',
  ].join('\r\n')
}

/** The same as OFX 1, whose elements have no ends. */
export const ofxFile = (account: string, opening: number, rows: readonly Row[]): string => {
  const day = (date: string) => date.replaceAll('-', '')
  const [first, last] = [rows[0]?.date as string, rows.at(-1)?.date as string]
  const closing = rows.reduce((sum, row) => sum + minorOf(row), opening)
  const lines = rows.map(
    row =>
      `<STMTTRN><TRNTYPE>OTHER<DTPOSTED>${day(row.date as string)}<TRNAMT>${row.amount}<FITID>${row.line_id}<NAME>${(row.description as string).replaceAll('&', '&amp;')}</STMTTRN>`,
  )
  return [
    'OFXHEADER:100',
    'DATA:OFXSGML',
    'VERSION:102',
    'ENCODING:USASCII',
    'CHARSET:1252',
    '',
    `<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>EUR<BANKACCTFROM><BANKID>SKMR<ACCTID>${account}<ACCTTYPE>CHECKING</BANKACCTFROM>`,
    `<BANKTRANLIST><DTSTART>${day(first)}<DTEND>${day(last)}`,
    ...lines,
    `</BANKTRANLIST><LEDGERBAL><BALAMT>${formatAmount(closing, 'EUR')}<DTASOF>${day(last)}</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`,
    '',
  ].join('\n')
}

const planWords: Readonly<Record<string, string>> = {
  collected: 'Plan paid',
  collected_back: 'Plan cancelled',
  payout: 'Paid out',
}

/** A pay-later service's workbook: a cover sheet, and behind it the list, with days as a spreadsheet keeps them. */
export const planWorkbook = async (rows: readonly Row[], file: string): Promise<void> => {
  const book = new excel.Workbook()
  book.addWorksheet('Cover').addRows([['Plans of the quarter'], [], ['For', 'Kiln Lane Ceramics']])
  const list = book.addWorksheet('Plans')
  list.addRow(['Day', 'Plan', 'Order ref', 'What', 'Gross', 'Cost', 'Net', 'Currency'])
  const fees = new Map(
    rows.filter(row => row.kind === 'processing_fee').map(row => [row.order_id, minorOf(row)] as const),
  )
  for (const row of rows) {
    const word = planWords[row.kind as string]
    if (word === undefined) continue
    const fee = row.kind === 'collected' ? (fees.get(row.order_id) ?? 0) : 0
    const day = new Date(`${(row.occurred_at as string).slice(0, 10)}T00:00:00Z`)
    const [gross, cost, net] = [minorOf(row), fee, minorOf(row) + fee].map(minor => minor / 100)
    list.addRow([day, row.line_id, row.order_id ?? '', word, gross, cost, net, row.currency])
  }
  list.getColumn(1).numFmt = 'yyyy-mm-dd'
  await book.xlsx.writeFile(file)
}

const germanWords: Readonly<Record<string, string>> = {
  sale: 'Verkauf',
  shipping: 'Versand',
  refund: 'Erstattung',
  selling_fee: 'Verkaufsgebühr',
  advertising_fee: 'Werbegebühr',
  payout: 'Auszahlung',
}

/** A marketplace's list in German, with decimal commas, in the encoding of an older Windows. */
export const germanExport = (rows: readonly Row[]): Buffer => {
  const records = rows.flatMap(row => {
    const word = germanWords[row.kind as string]
    if (word === undefined) return []
    const day = (row.occurred_at as string).slice(0, 10).split('-').reverse().join('.')
    const text = (row.description ?? '').replaceAll(/[;"]/g, ' ')
    return [[day, word, row.order_id ?? '', text, comma(row.amount as string), row.currency ?? ''].join(';')]
  })
  return Buffer.from(
    ['Datum;Buchungsart;Bestellnummer;Artikelbezeichnung;Betrag;Währung', ...records, ''].join('\r\n'),
    'latin1',
  )
}
