import { describe, expect, it } from 'vitest'
import type { BankLine } from './bankRow.ts'
import { FaultList } from './fault.ts'
import { mt940Reader } from './mt940Statement.ts'
import { ofxReader, sgmlEvents } from './ofxStatement.ts'
import { type StatementHead, statementDifference } from './statementHead.ts'

const collect = () => {
  const faults = new FaultList()
  const lines: BankLine[] = []
  const heads: StatementHead[] = []
  const told = {
    found: (line: BankLine) => void lines.push(line),
    statement: (head: StatementHead) => void heads.push(head),
  }
  return { faults, lines, heads, told, codes: () => faults.shown.map(({ row, column, code }) => [row, column, code]) }
}

const readMt940 = (text: string) => {
  const read = collect()
  const reader = mt940Reader(read.faults, read.told)
  const rows = text.trim().split('\n')
  for (const [at, row] of rows.entries()) reader.take(row.trim(), at + 1)
  reader.end(rows.length)
  return read
}

const statement = `
  :20:STARTUMS
  :25:12030000/7712344471EUR
  :28C:21/1
  :60F:C260331EUR9204,11
  :61:2604010401C1204,11NTRFOH-2611//B-77
  :86:166?00GUTSCHRIFT?20OPENHALL SETTL?21 2611?32OPENHALL LTD
  :61:260402D212,40NMSCNONREF
  :86:CARD CLAY SUPPLY
  KINGSTON
  :61:2612310102D1,00NCHGNONREF
  :62F:C260402EUR10194,82
  -`

describe('MT940', () => {
  it('gives its lines with day, sign, text and reference', () => {
    const { lines, codes } = readMt940(statement)
    expect(codes()).toEqual([])
    expect(lines).toMatchObject([
      {
        date: '2026-04-01',
        bankAccount: '12030000/7712344471',
        amount: 120_411,
        currency: 'EUR',
        reference: 'OH-2611',
        lineId: 'B-77',
      },
      { date: '2026-04-02', amount: -21_240, description: 'CARD CLAY SUPPLY KINGSTON', reference: '' },
      { date: '2027-01-02', amount: -100, description: '' },
    ])
    expect(lines[0]?.description).toBe('OPENHALL SETTL 2611 OPENHALL LTD GUTSCHRIFT')
  })

  it('gives its balances, and foots', () => {
    const { heads } = readMt940(statement)
    expect(heads).toMatchObject([
      { number: '21', from: '2026-04-01', opening: 920_411, closing: 1_019_482, lines: 3, sum: 99_071 },
    ])
    expect(statementDifference(heads[0] as StatementHead)).toBe(0)
  })

  it('puts the pages of a statement together', () => {
    const paged = statement
      .replace(':62F:C260402EUR10194,82', ':62M:C260402EUR10194,82')
      .concat(
        `\n:20:STARTUMS\n:25:12030000/7712344471EUR\n:28C:21/2\n:60M:C260402EUR10194,82\n:61:260403C5,18NTRFX\n:62F:C260403EUR10200,00\n-`,
      )
    const { heads, lines } = readMt940(paged)
    expect(lines).toHaveLength(4)
    expect(heads).toMatchObject([{ opening: 920_411, closing: 1_020_000, lines: 4, sum: 99_589 }])
  })

  it('keeps statements of several accounts apart', () => {
    const two = `${statement}\n:20:X\n:25:IE29SKMU99007712344471\n:28C:1\n:60F:D260401EUR0,10\n:61:260401RC0,50NTRFA\n:61:260401RD0,20NTRFB\n:61:260401EC9,00NTRFC\n:62F:D260401EUR0,40`
    const { heads, lines } = readMt940(two)
    expect(heads.map(head => [head.bankAccount, head.opening, head.closing, head.sum])).toEqual([
      ['12030000/7712344471', 920_411, 1_019_482, 99_071],
      ['IE29SKMU99007712344471', -10, -40, -30],
    ])
    expect(lines.slice(3).map(line => line.amount)).toEqual([-50, 20])
  })

  it('reads an account with its currency in 25P, and whole amounts without a comma', () => {
    const loose = statement
      .replace(':25:', ':25P:')
      .replace('C1204,11NTRF', 'C1204NTRF')
      .replace('EUR9204,11', 'EUR9204')
    const { lines, heads, codes } = readMt940(loose)
    expect(codes()).toEqual([])
    expect(lines[0]).toMatchObject({ bankAccount: '12030000/7712344471', amount: 120_400, reference: 'OH-2611' })
    expect(heads[0]?.opening).toBe(920_400)
  })

  it('joins a word that is cut off at the end of a part or of a line', () => {
    const cut = statement.replace(/:86:166.*/, ':86:166?00CREDIT?20OPENHALL SETTLEMENT NO 2611?2177 MARCH?32OPENHALL')
    expect(readMt940(cut).lines[0]?.description).toBe('OPENHALL SETTLEMENT NO 261177 MARCH OPENHALL CREDIT')
    const free = `${'X'.repeat(60)}OPENH`
    const lines = statement.replace('CARD CLAY SUPPLY\n  KINGSTON', `${free}\n  ALL SETTL`)
    expect(readMt940(lines).lines[1]?.description).toBe(`${'X'.repeat(60)}OPENHALL SETTL`)
  })

  it('names what is wrong with its row', () => {
    expect(readMt940(statement.replace('1204,11NTRF', '1204.11NTRF')).codes()).toEqual([[5, ':61:', 'not_an_amount']])
    expect(readMt940(statement.replace('C260331EUR', 'C261331EUR')).codes()[0]).toEqual([4, ':60F:', 'not_a_date'])
    expect(readMt940(statement.replace(/:62F:.*/, '')).codes()).toEqual([[12, ':62F:', 'empty']])
    expect(readMt940('hello').codes()).toEqual([[1, null, 'not_a_statement']])
  })

  it('tells two equal payments of a day apart', () => {
    const double = statement.replace(':62F:', ':61:260402D212,40NMSCNONREF\n:86:CARD CLAY SUPPLY\nKINGSTON\n:62F:')
    expect(new Set(readMt940(double).lines.map(line => line.lineId)).size).toBe(4)
  })
})

const readOfx = (text: string) => {
  const read = collect()
  const reader = ofxReader(read.faults, read.told)
  for (const event of sgmlEvents(text.slice(text.indexOf('<')))) reader.take(event, 1)
  reader.end(1)
  return read
}

const ofx = `OFXHEADER:100
DATA:OFXSGML

<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>EUR<BANKACCTFROM><BANKID>SKMU<ACCTID>7712344471<ACCTTYPE>CHECKING</BANKACCTFROM>
<BANKTRANLIST><DTSTART>20260401<DTEND>20260402
<STMTTRN><TRNTYPE>CREDIT<DTPOSTED>20260401120000[0:GMT]<TRNAMT>1204.11<FITID>F1<NAME>OPENHALL &amp; CO<MEMO>SETTL 2611</STMTTRN>
<STMTTRN><TRNTYPE>DEBIT<DTPOSTED>20260402<TRNAMT>-212,40<FITID>F2<CHECKNUM>88<PAYEE><NAME>CLAY SUPPLY<CITY>KINGSTON</PAYEE></STMTTRN>
</BANKTRANLIST><LEDGERBAL><BALAMT>10195.82<DTASOF>20260402</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>`

describe('OFX', () => {
  const expected = [
    {
      lineId: 'F1',
      date: '2026-04-01',
      amount: 120_411,
      description: 'OPENHALL & CO SETTL 2611',
      bankAccount: '7712344471',
    },
    { lineId: 'F2', date: '2026-04-02', amount: -21_240, description: 'CLAY SUPPLY', reference: '88' },
  ]
  it('1, whose elements have no end, gives its lines', () => {
    const { lines, heads, codes } = readOfx(ofx)
    expect(codes()).toEqual([])
    expect(lines).toMatchObject(expected)
    expect(heads).toMatchObject([
      { from: '2026-04-01', to: '2026-04-02', closing: 1_019_582, opening: 920_411, lines: 2 },
    ])
  })
  it('2, whose elements have ends, gives the same', () => {
    const closed = ofx.replace(
      /<(CURDEF|BANKID|ACCTID|ACCTTYPE|DTSTART|DTEND|TRNTYPE|DTPOSTED|TRNAMT|FITID|NAME|MEMO|CHECKNUM|CITY|BALAMT|DTASOF)>([^<\n]*)/g,
      '<$1>$2</$1>',
    )
    expect(readOfx(closed).lines).toEqual(readOfx(ofx).lines)
    expect(readOfx(closed).heads).toEqual(readOfx(ofx).heads)
  })
  it('a balance counts at its own day: of a later one nothing is known, of an earlier one the rest comes after it', () => {
    expect(readOfx(ofx.replace('<DTASOF>20260402', '<DTASOF>20260405')).heads).toMatchObject([
      { opening: null, closing: null, to: '2026-04-02' },
    ])
    const earlier = readOfx(ofx.replace('10195.82<DTASOF>20260402', '10408.22<DTASOF>20260401'))
    expect(earlier.heads).toMatchObject([{ to: '2026-04-01', opening: 920_411, closing: 1_040_822, sum: 120_411 }])
    expect(earlier.lines).toHaveLength(2)
  })
  it('a line in another currency is turned into the account’s at the rate it tells, and keeps both', () => {
    const of = (more: string) => readOfx(ofx.replace('<FITID>F1', `${more}<FITID>F1`))
    const other = of('<CURRENCY><CURRATE>0.9250<CURSYM>USD</CURRENCY>')
    expect(other.lines[0]).toMatchObject({
      amount: 111_380,
      currency: 'EUR',
      details: { original: { amount: 120_411, currency: 'USD' } },
    })
    const turned = of('<ORIGCURRENCY><CURRATE>0.5<CURSYM>USD</ORIGCURRENCY>')
    expect(turned.lines[0]).toMatchObject({
      amount: 120_411,
      details: { original: { amount: 240_822, currency: 'USD' } },
    })
    expect(of('<CURRENCY><CURSYM>USD</CURRENCY>').codes()).toEqual([[1, 'CURRENCY/CURRATE', 'not_a_rate']])
    expect(of('<CURRENCY><CURRATE>2<CURSYM>QQQ</CURRENCY>').codes()).toEqual([
      [1, 'CURRENCY/CURSYM', 'unknown_currency'],
    ])
  })
  it('a correction replaces or deletes the line that it names', () => {
    const corrections: unknown[] = []
    const read = (text: string) => {
      const found = collect()
      const reader = ofxReader(found.faults, { ...found.told, correction: one => corrections.push(one) })
      for (const event of sgmlEvents(text.slice(text.indexOf('<')))) reader.take(event, 1)
      reader.end(1)
      return found
    }
    const add = (action: string, corrected: string) =>
      ofx.replace(
        '</BANKTRANLIST>',
        `<STMTTRN><TRNTYPE>CREDIT<DTPOSTED>20260402<TRNAMT>1200.00<FITID>F3<CORRECTFITID>${corrected}<CORRECTACTION>${action}<NAME>OPENHALL</STMTTRN></BANKTRANLIST>`,
      )
    const replaced = read(add('REPLACE', 'F1'))
    expect(replaced.heads[0]).toMatchObject({ lines: 2, sum: 98_760 })
    expect(replaced.lines.map(line => line.lineId)).toEqual(['F1', 'F2', 'F3'])
    const deleted = read(add('DELETE', 'F1'))
    expect(deleted.heads[0]).toMatchObject({ lines: 1, sum: -21_240 })
    expect(deleted.lines.map(line => line.lineId)).toEqual(['F1', 'F2'])
    // One of an earlier file: what it was is not known, and so is not the opening balance.
    expect(read(add('REPLACE', 'F0')).heads[0]).toMatchObject({ opening: null })
    expect(corrections).toEqual([
      { bankAccount: '7712344471', lineId: 'F1', action: 'replace' },
      { bankAccount: '7712344471', lineId: 'F1', action: 'delete' },
      { bankAccount: '7712344471', lineId: 'F0', action: 'replace' },
    ])
    expect(read(add('ERASE', 'F1')).codes()).toEqual([[1, 'CORRECTACTION', 'unknown_action']])
  })
  it('lines whose ends are left out are told apart all the same', () =>
    expect(readOfx(ofx.replaceAll('</STMTTRN>', '')).lines).toHaveLength(2))
  it('names what is wrong', () => {
    expect(readOfx(ofx.replace('1204.11', 'lots')).codes()).toEqual([[1, 'TRNAMT', 'not_an_amount']])
    expect(readOfx(ofx.replace('<CURDEF>EUR', '')).codes()[0]).toEqual([1, 'CURDEF', 'unknown_currency'])
    expect(readOfx('<OFX></OFX>').codes()).toEqual([[1, null, 'not_a_statement']])
  })
})
