import { csvRecord } from '@culvert/core'
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

/** A bank statement as ISO 20022 camt.053.001.08. */
export const camtFile = (account: string, rows: readonly Row[]): string => `<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08">
  <BkToCstmrStmt>
    <GrpHdr><MsgId>SKM-1</MsgId><CreDtTm>2026-07-06T06:00:00+01:00</CreDtTm></GrpHdr>
    <Stmt>
      <Id>SKM-1-1</Id>
      <Acct><Id><IBAN>${account}</IBAN></Id><Ccy>EUR</Ccy></Acct>
${rows.map(entryXml).join('\n')}
    </Stmt>
  </BkToCstmrStmt>
</Document>
`

const entryXml = (row: Row): string => {
  const amount = row.amount as string
  const side = amount.startsWith('-') ? 'DBIT' : 'CRDT'
  return `      <Ntry>
        <Amt Ccy="EUR">${amount.replace('-', '')}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts>
        <BookgDt><Dt>${row.date}</Dt></BookgDt><ValDt><Dt>${row.date}</Dt></ValDt><AcctSvcrRef>${row.line_id}</AcctSvcrRef>
        <NtryDtls><TxDtls><RmtInf><Ustrd>${xmlText(row.description as string)}</Ustrd></RmtInf></TxDtls></NtryDtls>
      </Ntry>`
}
