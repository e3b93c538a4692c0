import { csvRecord, formatAmount, lastDayOfMonth } from '@culvert/core'
import type { Row } from './openhall.ts'

/** Rows as CSV with the given columns. */
export const csvFile = (columns: readonly string[], rows: readonly Row[]): string =>
  [columns, ...rows.map(row => columns.map(column => row[column] ?? ''))].map(csvRecord).join('')

export const activityColumns = [
  'line_id',
  'settlement_id',
  'occurred_at',
  'kind',
  'order_id',
  'gateway',
  'method',
  'category',
  'sku',
  'description',
  'quantity',
  'unit_price',
  'region',
  'customer',
  'tax_label',
  'currency',
  'amount',
] as const
export const settlementColumns = [
  'settlement_id',
  'period_start',
  'period_end',
  'currency',
  'opening_balance',
  'closing_balance',
  'payout_date',
  'payout_reference',
  'url',
] as const
export const balanceColumns = ['source', 'currency', 'at', 'available', 'pending', 'reserve'] as const
export const bankColumns = [
  'line_id',
  'date',
  'bank_account',
  'amount',
  'currency',
  'description',
  'reference',
] as const

const xmlText = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')

interface Statements {
  readonly account: string
  /** Balance before the first row, minor units. */
  readonly opening: number
  /** The bank's number of the first statement. */
  readonly number: number
}

/** Bank statements as ISO 20022 camt.053.001.08, one for each month that has rows, each with the balances that it leads between. */
export const camtFile = (rows: readonly Row[], { account, opening, number }: Statements): string => {
  let balance = opening
  const months = [...new Set(rows.map(row => (row.date as string).slice(0, 7)))]
  const statements = months.map((month, at) => {
    const own = rows.filter(row => (row.date as string).startsWith(month))
    const before = balance
    balance = own.reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), before)
    const last = at === months.length - 1 ? (own.at(-1)?.date as string) : lastDayOfMonth(month)
    return statementXml({
      account,
      number: number + at,
      from: `${month}-01`,
      to: last,
      before,
      after: balance,
      rows: own,
    })
  })
  return `<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08">
  <BkToCstmrStmt>
    <GrpHdr><MsgId>SKM-${number}</MsgId><CreDtTm>2026-07-06T06:00:00+01:00</CreDtTm></GrpHdr>
${statements.join('\n')}
  </BkToCstmrStmt>
</Document>
`
}

const balanceXml = (sort: string, minor: number, date: string): string =>
  `      <Bal><Tp><CdOrPrtry><Cd>${sort}</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">${formatAmount(Math.abs(minor), 'EUR')}</Amt><CdtDbtInd>${minor < 0 ? 'DBIT' : 'CRDT'}</CdtDbtInd><Dt><Dt>${date}</Dt></Dt></Bal>`

const statementXml = (of: {
  readonly account: string
  readonly number: number
  readonly from: string
  readonly to: string
  readonly before: number
  readonly after: number
  readonly rows: readonly Row[]
}): string => `    <Stmt>
      <Id>SKM-${of.number}-1</Id><ElctrncSeqNb>${of.number}</ElctrncSeqNb>
      <FrToDt><FrDtTm>${of.from}T00:00:00</FrDtTm><ToDtTm>${of.to}T23:59:59</ToDtTm></FrToDt>
      <Acct><Id><IBAN>${of.account}</IBAN></Id><Ccy>EUR</Ccy></Acct>
${balanceXml('OPBD', of.before, of.from)}
${balanceXml('CLBD', of.after, of.to)}
${of.rows.map(entryXml).join('\n')}
    </Stmt>`

const entryXml = (row: Row): string => {
  const amount = row.amount as string
  const side = amount.startsWith('-') ? 'DBIT' : 'CRDT'
  return `      <Ntry>
        <Amt Ccy="EUR">${amount.replace('-', '')}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts>
        <BookgDt><Dt>${row.date}</Dt></BookgDt><ValDt><Dt>${row.date}</Dt></ValDt><AcctSvcrRef>${row.line_id}</AcctSvcrRef>
        <NtryDtls><TxDtls><RmtInf><Ustrd>${xmlText(row.description as string)}</Ustrd></RmtInf></TxDtls></NtryDtls>
      </Ntry>`
}
