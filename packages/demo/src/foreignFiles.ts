import { formatAmount } from '@culvert/core'
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
