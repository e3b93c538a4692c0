import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { activityColumns, readActivityRow } from './activityRow.ts'
import type { BankLine } from './bankRow.ts'
import { camtReader, type XmlEvent } from './camtStatement.ts'
import { readColumns, separatorOf } from './columns.ts'
import { csvRecord } from './csvRecord.ts'
import { FaultList, maxFaultsShown } from './fault.ts'
import { parseInstant } from './fields.ts'

const header = ['line_id', 'occurred_at', 'kind', 'currency', 'amount', 'tax_amount', 'region', 'note']
const good = ['A-1', '2026-03-05T14:30:00+01:00', 'sale', 'EUR', '12.30', '', 'CA-QC', 'kept']
const read = (record: readonly string[]) => {
  const faults = new FaultList()
  const columns = readColumns(header, activityColumns, faults)
  return {
    line: readActivityRow(record, { columns, row: 2, source: 'openhall', faults }),
    faults: faults.shown.map(({ column, code }) => [column, code]),
  }
}
const withField = (name: string, value: string) =>
  read(good.map((field, index) => (header[index] === name ? value : field)))

describe('a row of activity', () => {
  it('keeps what it says, also in columns that are not known', () => {
    expect(read(good).line).toMatchObject({
      lineId: 'A-1',
      amount: 1230,
      taxAmount: null,
      region: 'CA-QC',
      status: 'available',
      extra: { note: 'kept' },
      instant: Date.parse('2026-03-05T13:30:00Z'),
    })
  })
  it.each([
    ['kind', 'sold', 'unknown_kind'],
    ['kind', '', 'empty'],
    ['currency', 'EURO', 'unknown_currency'],
    ['amount', '1.234', 'too_many_digits'],
    ['amount', '', 'empty'],
    ['occurred_at', '2026-03-05 14:30', 'not_a_time'],
    ['occurred_at', '2026-02-30T10:00:00Z', 'not_a_time'],
    ['region', 'Ireland', 'not_a_region'],
    ['line_id', 'a\0b', 'not_csv'],
  ])('with %s “%s” is refused as %s', (column, value, code) => {
    const { line, faults } = withField(column, value)
    expect([line, faults]).toEqual([null, [[column, code]]])
  })
  it('names all its faults, not the first', () =>
    expect(read(['', 'x', 'y', 'z', '', '', 'q', '']).faults.length).toBeGreaterThanOrEqual(6))
  it('is a line or faults, whatever it holds', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string(), fc.constantFrom(...good)), { maxLength: 10 }), record => {
        const { line, faults } = read(record)
        expect(line === null).toBe(faults.length > 0)
      }),
      { numRuns: 3000 },
    )
  })
})

it('reads headers in any order, and says what is missing or there twice', () => {
  const faults = new FaultList()
  readColumns(['amount', 'kind', 'kind', 'currency'], activityColumns, faults)
  expect(faults.shown.map(({ column, code }) => `${column} ${code}`).sort()).toEqual([
    'kind column_twice',
    'line_id missing_column',
    'occurred_at missing_column',
  ])
  expect([separatorOf('a;b;"c,d,e,f"'), separatorOf('a\tb'), separatorOf('a,b;c,d')]).toEqual([';', '\t', ','])
})

it('shows a hundred faults and counts the rest', () => {
  const faults = new FaultList()
  for (let row = 0; row < 250; row++) faults.add({ row, column: null, value: 'x'.repeat(999), code: 'empty' })
  expect([faults.shown.length, faults.kept.length, faults.count, faults.shown[0]?.value.length]).toEqual([
    maxFaultsShown,
    250,
    250,
    200,
  ])
})

it.each([
  ['2026-03-29T01:30:00Z', '2026-03-29T01:30:00Z'],
  ['2026-03-05T23:00:00-05:00', '2026-03-06T04:00:00Z'],
  ['2026-03-05T10:00+0530', '2026-03-05T04:30:00Z'],
])('reads the moment %s', (text, same) => {
  expect(parseInstant(text)).toBe(Date.parse(same))
})

it('quotes only what must be quoted', () =>
  expect(csvRecord(['a', 'b,c', 'd"e', 'f\ng', ''])).toBe('a,"b,c","d""e","f\ng",\n'))

describe('a camt.053 statement', () => {
  const events = (text: string): XmlEvent[] =>
    [...text.matchAll(/<(\/?)([\w]+)((?:\s[\w:]+="[^"]*")*)>|([^<]+)/g)].map(
      ([, close, name = '', attributes = '', content]): XmlEvent =>
        content !== undefined
          ? { type: 'text', text: content }
          : close
            ? { type: 'close', name }
            : {
                type: 'open',
                name,
                attributes: Object.fromEntries(
                  [...attributes.matchAll(/([\w:]+)="([^"]*)"/g)].map(([, key = '', value = '']) => [key, value]),
                ),
              },
    )
  const entry = (amount: string, side: string, more = '') =>
    `<Ntry><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-03-04</Dt></BookgDt><AcctSvcrRef>R1</AcctSvcrRef><NtryDtls><TxDtls><Refs><EndToEndId>E2E-7</EndToEndId></Refs><RmtInf><Ustrd>OPENHALL SETTL</Ustrd></RmtInf></TxDtls></NtryDtls>${more}</Ntry>`
  const statement = (entries: string) => {
    const faults = new FaultList()
    const lines: BankLine[] = []
    const reader = camtReader(faults, line => lines.push(line))
    for (const event of events(
      `<Document><BkToCstmrStmt><Stmt><Acct><Id><IBAN>IE00TEST</IBAN></Id></Acct>${entries}</Stmt></BkToCstmrStmt></Document>`,
    ))
      reader.take(event, 1)
    return { reaches: reader.end(1), lines, faults: faults.shown.map(({ column, code }) => [column, code]) }
  }
  it('gives booked entries with sign, text and references', () => {
    expect(statement(entry('12.30', 'CRDT') + entry('5.00', 'DBIT')).lines).toEqual([
      {
        lineId: 'R1',
        date: '2026-03-04',
        bankAccount: 'IE00TEST',
        amount: 1230,
        currency: 'EUR',
        description: 'OPENHALL SETTL',
        reference: 'E2E-7',
      },
      {
        lineId: 'R1 2',
        date: '2026-03-04',
        bankAccount: 'IE00TEST',
        amount: -500,
        currency: 'EUR',
        description: 'OPENHALL SETTL',
        reference: 'E2E-7',
      },
    ])
  })
  it('turns a reversal round and leaves out what is pending', () => {
    expect(statement(entry('12.30', 'CRDT', '<RvslInd>true</RvslInd>')).lines[0]?.amount).toBe(-1230)
    expect(statement(entry('12.30', 'CRDT').replace('BOOK', 'PDNG')).lines).toEqual([])
  })
  it('names what is wrong in an entry', () => {
    expect(statement(entry('12.345', 'CRDT') + entry('1.00', 'UP')).faults).toEqual([
      ['Amt', 'too_many_digits'],
      ['CdtDbtInd', 'unlike_sign'],
    ])
  })
})
