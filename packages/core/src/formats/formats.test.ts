import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { activityColumns, readActivityRow } from './activityRow.ts'
import type { BankLine } from './bankRow.ts'
import { camtReader, type XmlEvent } from './camtStatement.ts'
import { readColumns, separatorOf } from './columns.ts'
import { csvRecord } from './csvRecord.ts'
import { FaultList, maxFaultsShown } from './fault.ts'
import { parseInstant } from './fields.ts'
import type { StatementHead } from './statementHead.ts'

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
  it('takes the direction of a reversal as it is booked, and leaves out what is pending', () => {
    for (const [side, amount] of [
      ['CRDT', 1230],
      ['DBIT', -1230],
    ] as const)
      for (const reversal of ['true', 'false'])
        expect(statement(entry('12.30', side, `<RvslInd>${reversal}</RvslInd>`)).lines[0]?.amount).toBe(amount)
    expect(statement(entry('12.30', 'CRDT').replace('BOOK', 'PDNG')).lines).toEqual([])
  })
  it('has its id of the account servicer, else of the entry, never of the customer', () => {
    const without = entry('12.30', 'DBIT').replace('<AcctSvcrRef>R1</AcctSvcrRef>', '')
    const idsOf = (text: string) => statement(text).lines.map(line => line.lineId)
    expect(idsOf(without.replace('<Amt', '<NtryRef>SKM-2026-77</NtryRef><Amt'))).toEqual(['SKM-2026-77'])
    // What only counts the entries of a statement begins anew with the next one.
    const counted = (day: string) =>
      without.replace('<Amt', '<NtryRef>1</NtryRef><Amt').replace('2026-03-04', `2026-${day}`)
    expect(idsOf(counted('03-04'))).not.toEqual(idsOf(counted('04-04')))
    // A standing order repeats its end-to-end id: two months are two lines.
    const months = idsOf(without + without.replace('2026-03-04', '2026-04-04'))
    expect(new Set(months).size).toBe(2)
    expect(statement(without).lines[0]?.reference).toBe('E2E-7')
  })
  it('keeps what was instructed, and charges', () => {
    const more =
      '<AmtDtls><InstdAmt><Amt Ccy="USD">15.00</Amt></InstdAmt></AmtDtls><Chrgs><Rcrd><Amt Ccy="EUR">0.70</Amt></Rcrd></Chrgs>'
    expect(statement(entry('12.30', 'CRDT', more)).lines[0]?.details).toEqual({
      original: { amount: 1500, currency: 'USD' },
      charges: [{ amount: 70, currency: 'EUR' }],
    })
    const same = '<AmtDtls><InstdAmt><Amt Ccy="EUR">12.30</Amt></InstdAmt></AmtDtls>'
    expect(statement(entry('12.30', 'CRDT', same)).lines[0]).not.toHaveProperty('details')
  })
  const balance = (sort: string, amount: string, day: string, sub = '') =>
    `<Bal><Tp><CdOrPrtry><Cd>${sort}</Cd></CdOrPrtry>${sub ? `<SubTp><Cd>${sub}</Cd></SubTp>` : ''}</Tp><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt>${day}</Dt></Bal>`
  const headsOf = (...statements: readonly string[]) => {
    const heads: StatementHead[] = []
    const reader = camtReader(
      new FaultList(),
      () => undefined,
      one => heads.push(one),
    )
    const all = statements.map(
      one => `<Stmt><ElctrncSeqNb>7</ElctrncSeqNb><Acct><Id><IBAN>IE00TEST</IBAN></Id></Acct>${one}</Stmt>`,
    )
    for (const event of events(`<Document><BkToCstmrStmt>${all.join('')}</BkToCstmrStmt></Document>`))
      reader.take(event, 1)
    return { heads, reaches: reader.end(1) }
  }
  it('ends at its closing balance, dated by day or instant; a forward balance ends nothing', () => {
    const begin = balance('OPBD', '100.00', '<Dt>2026-03-01</Dt>')
    const end = (day: string) => balance('CLBD', '112.30', day)
    const forward = balance('FWAV', '112.30', '<Dt>2026-04-07</Dt>')
    for (const day of ['<Dt>2026-03-31</Dt>', '<DtTm>2026-03-31T23:59:59+02:00</DtTm>']) {
      const { heads, reaches } = headsOf(begin + end(day) + forward + entry('12.30', 'CRDT'))
      expect(heads).toMatchObject([{ to: '2026-03-31', opening: 10_000, closing: 11_230, sum: 1230 }])
      expect(reaches).toEqual([{ bankAccount: 'IE00TEST', to: '2026-03-31' }])
    }
    const period = '<FrToDt><FrDtTm>2026-03-01T00:00:00</FrDtTm><ToDtTm>2026-04-01T00:00:00</ToDtTm></FrToDt>'
    expect(headsOf(period + begin + end('<Dt>2026-03-31</Dt>')).heads[0]?.to).toBe('2026-03-31')
  })
  it('puts pages together at their intermediate balances', () => {
    const first = balance('OPBD', '100.00', '<Dt>2026-03-01</Dt>') + entry('12.30', 'CRDT')
    const page = balance('CLBD', '112.30', '<Dt>2026-03-04</Dt>', 'INTM')
    const next = balance('OPBD', '112.30', '<Dt>2026-03-04</Dt>', 'INTM') + entry('2.30', 'DBIT')
    const { heads } = headsOf(first + page, next + balance('CLBD', '110.00', '<Dt>2026-03-31</Dt>'))
    expect(heads).toMatchObject([{ opening: 10_000, closing: 11_000, lines: 2, sum: 1000, to: '2026-03-31' }])
    expect(headsOf(first + page).heads).toMatchObject([{ opening: 10_000, closing: null }])
  })
  it('names what is wrong in an entry', () => {
    expect(statement(entry('12.345', 'CRDT') + entry('1.00', 'UP')).faults).toEqual([
      ['Amt', 'too_many_digits'],
      ['CdtDbtInd', 'unlike_sign'],
    ])
  })
})
