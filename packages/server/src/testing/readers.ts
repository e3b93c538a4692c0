import { Readable } from 'node:stream'
import {
  activityColumns,
  addDays,
  balanceColumns,
  type ChartReader,
  type ColumnMapping,
  type Columns,
  chartReader,
  FaultList,
  formatAmount,
  type MappedReader,
  mappedReader,
  readActivityRow,
  readBalanceRow,
  readColumns,
  readSettlementRow,
  settlementColumns,
} from '@culvert/core'
import { readStatement } from '../bank/readStatement.ts'
import { readTable } from '../files/readTable.ts'
import { csvOf, makeWeeks } from './madeClient.ts'

/** A reader of one format, and a file of at least 50 rows that it takes in whole. */
export interface ReaderUnderTest {
  readonly name: string
  readonly seed: Buffer
  read(file: Readable, faults: FaultList): Promise<readonly unknown[]>
}

const readLines = async (file: Readable, faults: FaultList): Promise<readonly unknown[]> => {
  const lines: unknown[] = []
  await readStatement(file, {
    faults,
    line: line => {
      lines.push(line)
    },
    statement: head => {
      lines.push(head)
    },
    choiceOf: () => Promise.resolve(null),
  })
  return lines
}

type RowReader<Name extends string> = (
  record: readonly string[],
  context: { columns: Columns<Name>; row: number; faults: FaultList; source: string },
) => unknown

const tableReader =
  <Name extends string>(expected: { known: readonly Name[]; required: readonly Name[] }, readRow: RowReader<Name>) =>
  async (file: Readable, faults: FaultList): Promise<readonly unknown[]> => {
    const rows: unknown[] = []
    let columns: Columns<Name> | null = null
    await readTable(
      file,
      {
        header: header => {
          columns = readColumns(header, expected, faults)
        },
        row: (record, row) => {
          const read = columns && readRow(record, { columns, row, faults, source: 'openhall' })
          if (read) rows.push(read)
        },
      },
      faults,
    )
    return rows
  }

const mapping: ColumnMapping = {
  name: 'Gross beside fee',
  fields: {
    line_id: { from: 'column', column: 'Ref' },
    kind: { from: 'words', column: 'Type', words: { Charge: 'collected', Refund: 'collected_back' }, otherwise: null },
    currency: { from: 'column', column: 'Cur' },
  },
  times: { occurred_at: { from: 'column', column: 'When' } },
  unitPrice: null,
  movements: [
    { suffix: '', amount: { plus: ['Gross'], minus: [] }, taxAmount: null, fields: {}, reversedFor: null },
    {
      suffix: '/fee',
      amount: { plus: [], minus: ['Fee'] },
      taxAmount: null,
      fields: { kind: { from: 'constant', value: 'processing_fee' } },
      reversedFor: null,
    },
  ],
  numbers: { decimal: '.', thousands: ',' },
  dates: 'dmy',
  timeZone: 'Europe/Dublin',
  leaveOut: [],
  net: null,
  carried: [],
}

const readMapped = async (file: Readable, faults: FaultList): Promise<readonly unknown[]> => {
  const rows: unknown[] = []
  let reader: MappedReader | null = null
  await readTable(
    file,
    {
      header: header => {
        reader = mappedReader(mapping, header, { source: 'counterpay', faults })
      },
      row: (record, row) => {
        rows.push(...((reader as MappedReader | null)?.read(record, row, faults) ?? []))
      },
    },
    faults,
  )
  return rows
}

const csv = (rows: readonly Record<string, string>[]): Buffer => Buffer.from(csvOf(rows))
const many = <Row>(make: (index: number) => Row): Row[] => Array.from({ length: 60 }, (_, index) => make(index))

const camtOf = (): Buffer =>
  Buffer.from(`<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt><Id>1</Id>
<Acct><Id><IBAN>IE00SKMR00000044714471</IBAN></Id><Ccy>EUR</Ccy></Acct>
${many(
  index => `<Ntry><NtryRef>N${index}</NtryRef><Amt Ccy="EUR">${formatAmount(1000 + index * 37, 'EUR')}</Amt>
<CdtDbtInd>${index % 5 === 0 ? 'DBIT' : 'CRDT'}</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts>
<BookgDt><Dt>${addDays('2026-01-05', index)}</Dt></BookgDt>
<NtryDtls><TxDtls><RmtInf><Ustrd>OPENHALL SETTL é ${index}</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>`,
).join('\n')}
</Stmt></BkToCstmrStmt></Document>
`)

const mt940Of = (): Buffer => {
  const amounts = many(index => (index % 5 === 0 ? -1 : 1) * (1000 + index * 37))
  const comma = (minor: number) => formatAmount(Math.abs(minor), 'EUR').replace('.', ',')
  const day = (index: number) => addDays('2026-01-05', index).slice(2).replaceAll('-', '')
  return Buffer.from(
    [
      ':20:STARTUMS',
      ':25:IE00SKMR00000044714471',
      ':28C:21/1',
      ':60F:C260104EUR100,00',
      ...amounts.flatMap((amount, index) => [
        `:61:${day(index)}${day(index).slice(2)}${amount < 0 ? 'D' : 'C'}${comma(amount)}NTRFOHP-${index}//B-${index}`,
        `:86:166?00GUTSCHRIFT?20OPENHALL SETTL?21é ${index}?32OPENHALL`,
      ]),
      `:62F:C${day(59)}EUR${comma(10_000 + amounts.reduce((sum, amount) => sum + amount, 0))}`,
      '-',
    ].join('\r\n'),
  )
}

const ofxOf = (ended: boolean): Buffer => {
  const field = (name: string, value: string) => `<${name}>${value}${ended ? `</${name}>` : ''}\n`
  const head = ended
    ? '<?xml version="1.0" encoding="UTF-8"?>\n<?OFX OFXHEADER="200" VERSION="211"?>\n'
    : 'OFXHEADER:100\nDATA:OFXSGML\nENCODING:UTF-8\n\n'
  return Buffer.from(
    `${head}<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS>${field('CURDEF', 'EUR')}<BANKACCTFROM>${field('ACCTID', 'IE00SKMR00000044714471')}</BANKACCTFROM><BANKTRANLIST>${many(
      index =>
        `<STMTTRN>${field('DTPOSTED', addDays('2026-01-05', index).replaceAll('-', ''))}${field('TRNAMT', formatAmount(index % 5 ? 1000 + index : -900, 'EUR'))}${field('FITID', `F${index}`)}${field('NAME', `OPENHALL &amp; é ${index}`)}</STMTTRN>\n`,
    ).join('')}</BANKTRANLIST></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>\n`,
  )
}

const readAccounts = async (file: Readable, faults: FaultList): Promise<readonly unknown[]> => {
  const rows: unknown[] = []
  let reader: ChartReader | null = null
  await readTable(
    file,
    {
      header: header => {
        reader = chartReader(header, { base: 'EUR', sample: [], faults })
      },
      row: (record, row) => {
        const account = (reader as ChartReader | null)?.read(record, row, faults)
        if (account) rows.push(account)
      },
    },
    faults,
  )
  return rows
}

const weeks = makeWeeks(4, 6)

/** Every reader of files from outside. */
export const readersUnderTest: readonly ReaderUnderTest[] = [
  {
    name: 'activity.csv',
    seed: csv(
      weeks.lines
        .map((line, index) => ({
          ...line,
          category: ['Tableware', 'Glaze, kits', 'Bücher'][index % 3] as string,
          region: index % 2 ? 'IE' : 'CA-QC',
          tax_amount: index % 4 ? '' : '0.10',
          description: index % 7 ? '' : 'a "blue" mug',
          note: 'kept',
        }))
        .map(quoted),
    ),
    read: tableReader(activityColumns, readActivityRow),
  },
  {
    name: 'settlements.csv',
    seed: csv(makeWeeks(60, 1).heads),
    read: tableReader(settlementColumns, readSettlementRow),
  },
  {
    name: 'balances.csv',
    seed: csv(
      many(index => ({
        source: 'openhall',
        currency: 'EUR',
        at: `${addDays('2026-01-05', index)}T23:59`,
        available: formatAmount(index * 731, 'EUR'),
        pending: '0.00',
        reserve: index % 2 ? '' : '12.50',
      })),
    ),
    read: tableReader(balanceColumns, readBalanceRow),
  },
  {
    name: 'a bank statement in CSV',
    seed: csv(
      many(index => ({
        line_id: `SK${index}`,
        date: addDays('2026-01-05', index),
        bank_account: 'IE00SKMR00000044714471',
        amount: formatAmount(5000 - index * 211, 'EUR'),
        currency: 'EUR',
        description: 'OPENHALL SETTL',
        reference: `OHP-${index}`,
      })),
    ),
    read: readLines,
  },
  { name: 'camt.053', seed: camtOf(), read: readLines },
  { name: 'MT940', seed: mt940Of(), read: readLines },
  { name: 'OFX 1', seed: ofxOf(false), read: readLines },
  { name: 'OFX 2', seed: ofxOf(true), read: readLines },
  {
    name: 'a list of accounts',
    seed: csv(
      many(index => ({ Number: String(4000 + index), Name: `Sales ${index}`, Type: index % 2 ? 'Income' : 'Ertrag' })),
    ),
    read: readAccounts,
  },
  {
    name: 'a foreign CSV through a column mapping',
    seed: csv(
      many(index => ({
        Ref: `C-${index}`,
        When: `${String(1 + (index % 28)).padStart(2, '0')}/03/2026 14:${String(index % 60).padStart(2, '0')}`,
        Type: index % 6 ? 'Charge' : 'Refund',
        Cur: 'EUR',
        Gross: index % 9 ? formatAmount(1000 + index, 'EUR') : '"1,234.50"',
        Fee: '0.35',
      })),
    ),
    read: readMapped,
  },
]

function quoted(row: Record<string, string>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(row).map(([name, value]) => [name, /[",]/.test(value) ? `"${value.replaceAll('"', '""')}"` : value]),
  )
}

/** Gives a reader one file. What it throws is a fault of the reader's own. */
export const readFile = async (
  reader: ReaderUnderTest,
  file: Buffer,
): Promise<{ readonly rows: number; readonly faults: FaultList }> => {
  const faults = new FaultList()
  const rows = await reader.read(Readable.from([file]), faults)
  return { rows: rows.length, faults }
}
