import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { zoneOf } from '../activity/zone.ts'
import { parseAmount } from '../money/parseAmount.ts'
import { printAmount } from '../money/printAmount.ts'
import { type ColumnMapping, checkColumnMapping } from './columnMapping.ts'
import { FaultList } from './fault.ts'
import { parseInstant } from './fields.ts'
import { isoTime, numberStyles, ordersThatRead, plainNumber, stylesThatRead } from './foreignFields.ts'
import { mappedReader } from './mappedRow.ts'

const column = (name: string) => ({ from: 'column' as const, column: name })

/** A processor's report with gross, fee and tax side by side, in the marks of the continent. */
const mapping: ColumnMapping = {
  name: 'Gross and fee side by side',
  fields: {
    line_id: column('Vorgang'),
    kind: { from: 'words', column: 'Art', words: { Verkauf: 'sale', Erstattung: 'refund' }, otherwise: null },
    order_id: { from: 'joined', columns: ['Laden', 'Bestellung'], by: '-' },
    currency: { from: 'constant', value: 'EUR' },
    region: column('Land'),
  },
  times: { occurred_at: column('Datum') },
  unitPrice: null,
  movements: [
    {
      suffix: '',
      amount: { plus: ['Brutto'], minus: [] },
      taxAmount: { plus: ['Steuer'], minus: [] },
      fields: {},
      reversedFor: null,
    },
    {
      suffix: '/fee',
      amount: { plus: [], minus: ['Entgelt'] },
      taxAmount: null,
      fields: { kind: { from: 'constant', value: 'processing_fee' }, category: column('Art') },
      reversedFor: null,
    },
  ],
  numbers: { decimal: ',', thousands: '.' },
  dates: 'dmy',
  timeZone: 'Europe/Berlin',
  leaveOut: [{ column: 'Art', values: ['Summe'] }],
  net: null,
  carried: [],
}
const header = ['Vorgang', 'Datum', 'Art', 'Laden', 'Bestellung', 'Land', 'Brutto', 'Steuer', 'Entgelt', 'Notiz']
const read = (record: readonly string[], by: ColumnMapping = mapping) => {
  const faults = new FaultList()
  const reader = mappedReader(by, header, { source: 'counterpay', faults })
  const lines = reader?.read(record, 7, faults) ?? null
  return { lines, faults: faults.shown.map(({ row, column: name, value, code }) => [row, name, value, code]) }
}
const good = ['V-1', '05.03.2026 14:30', 'Verkauf', 'A', '17', 'DE', '1.234,50', '197,11', '12,35', '']

describe('a foreign record', () => {
  it('makes a line per movement, checked like any other', () =>
    expect(read(good).lines).toMatchObject([
      {
        source: 'counterpay',
        lineId: 'V-1',
        kind: 'sale',
        orderId: 'A-17',
        amount: 123_450,
        taxAmount: 19_711,
        occurredAt: '2026-03-05T14:30:00+01:00',
        instant: Date.parse('2026-03-05T13:30:00Z'),
        region: 'DE',
        category: null,
      },
      { lineId: 'V-1/fee', kind: 'processing_fee', amount: -1235, taxAmount: null, category: 'Verkauf' },
    ]))
  it('makes no line of a movement of nothing, and none at all of a total', () => {
    expect(read(good.with(8, '0,00')).lines?.map(line => line.lineId)).toEqual(['V-1'])
    expect(read(good.with(8, '')).lines).toHaveLength(1)
    expect(read(good.with(2, 'Summe')).lines).toEqual([])
  })
  it.each([
    [2, 'Geschenk', 'Art', 'unknown_word'],
    [1, '2026-13-05', 'Datum', 'not_a_time_so_mapped'],
    [1, '31.02.2026', 'Datum', 'not_a_time_so_mapped'],
    [6, '1,234.50', 'Brutto', 'not_a_number_so_mapped'],
    [6, '1,505', 'Brutto', 'too_many_digits'],
    [6, '99999999999999999', 'Brutto', 'out_of_range'],
    [5, 'Deutschland', 'Land', 'not_a_region'],
    [0, '', 'Vorgang', 'empty'],
  ])('with field %i “%s” is refused in the words of the file: %s %s', (at, value, name, code) => {
    const { lines, faults } = read(good.with(at, value))
    expect(lines).toBeNull()
    expect(faults[0]).toEqual([7, name, value, code])
  })
  it('of another length is refused', () => expect(read(good.slice(1)).faults[0]?.[3]).toBe('field_count'))
  it('is lines or faults, whatever it holds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.string(), fc.constantFrom(...good)), { minLength: 9, maxLength: 10 }),
        record => {
          const { lines, faults } = read(record)
          expect(lines === null).toBe(faults.length > 0)
        },
      ),
      { numRuns: 2000 },
    )
  })
})

it('says which columns a file lacks or has twice', () => {
  const faults = new FaultList()
  expect(mappedReader(mapping, [...header.slice(1), 'Art'], { source: 'x', faults })).toBeNull()
  expect(faults.shown.map(({ column: name, code }) => `${name} ${code}`).sort()).toEqual([
    'Art column_twice',
    'Vorgang missing_column',
  ])
})

it('is asked what it lacks before it reads a file', () => {
  expect(checkColumnMapping(mapping)).toEqual([])
  const { line_id: _, kind: __, ...fields } = mapping.fields
  expect(
    checkColumnMapping({
      ...mapping,
      fields,
      times: {},
      movements: [
        ...mapping.movements,
        { suffix: '', amount: { plus: [], minus: [] }, taxAmount: null, fields: {}, reversedFor: null },
      ],
      numbers: { decimal: ',', thousands: ',' },
    }).map(fault => fault.code),
  ).toEqual(['not_told', 'not_told', 'not_told', 'suffix_twice', 'no_amount', 'same_marks'])
  expect(checkColumnMapping({ ...mapping, movements: [] })[0]?.code).toBe('no_movements')
})

describe('a foreign number', () => {
  it.each([
    ['(1.234,50)', '-1234.50'],
    ['1234,5-', '-1234.5'],
    ['−3', '-3'],
    ['+3', '3'],
    [' 12.345.678 ', '12345678'],
    ['1.23,4', null],
    ['1.2345', null],
    ['--3', null],
    ['3,', null],
    ['', null],
    ['EUR 3', null],
  ])('%s is %s', (text, wanted) => expect(plainNumber(text, { decimal: ',', thousands: '.' })).toBe(wanted))
  it('reads what any style prints, to the cent', () => {
    const locales = [
      ['de-DE', ',', '.'],
      ['en-IE', '.', ','],
      ['fr-FR', ',', ' '],
      ['de-CH', '.', "'"],
    ] as const
    fc.assert(
      fc.property(
        fc.integer({ min: -1e12, max: 1e12 }),
        fc.constantFrom(...locales),
        (minor, [locale, decimal, thousands]) => {
          const plain = plainNumber(printAmount(minor, 'EUR', locale).replace('’', "'"), { decimal, thousands })
          expect(parseAmount(plain ?? '', 'EUR')).toEqual({ ok: true, minor: minor === 0 ? 0 : minor })
        },
      ),
    )
  })
  it('is asked about where a column can be read two ways, not where all ways agree', () => {
    expect(stylesThatRead(['1,234', '2,500'])).toHaveLength(2)
    expect(stylesThatRead(['1,234', '2.5,0'])).toHaveLength(0)
    expect(stylesThatRead(['1,234.00', ''])).toEqual([{ decimal: '.', thousands: ',' }])
    expect(stylesThatRead(['12', '7'])).toHaveLength(1)
    expect(numberStyles).toHaveLength(7)
  })
})

describe('a foreign time', () => {
  const dublin = zoneOf('Europe/Dublin')
  it.each([
    ['5.3.2026 14:30', 'dmy', '2026-03-05T14:30:00+00:00'],
    ['03/05/2026 2:05 PM', 'mdy', '2026-03-05T14:05:00+00:00'],
    ['03/05/2026 12:00 am', 'mdy', '2026-03-05T00:00:00+00:00'],
    ['2026-07-05', 'ymd', '2026-07-05T12:00:00+01:00'],
    ['2026-03-05T14:30:00-05:00', 'dmy', '2026-03-05T14:30:00-05:00'],
    // The clock goes from 01:00 to 02:00: what never was is the first moment after it.
    ['2026-03-29 01:30', 'ymd', '2026-03-29T02:00:00+01:00'],
    // It shows 01:30 twice: the first.
    ['2026-10-25 01:30', 'ymd', '2026-10-25T01:30:00+01:00'],
    ['5.3.26', 'dmy', null],
    ['5.3.2026 24:00', 'dmy', null],
    ['5.3.2026 13:00 pm', 'dmy', null],
    ['31.2.2026', 'dmy', null],
  ] as const)('%s by %s is %s', (text, order, wanted) => {
    const time = isoTime(text, order, dublin)
    if (wanted !== null) expect(parseInstant(time ?? '')).toBe(parseInstant(wanted))
    else expect(time).toBeNull()
  })
  it('is asked about where days and months could be changed over', () => {
    expect(ordersThatRead(['03/04/2026', '05/06/2026'], dublin)).toEqual(['dmy', 'mdy'])
    expect(ordersThatRead(['03/04/2026', '25/06/2026'], dublin)).toEqual(['dmy'])
    expect(ordersThatRead(['2026-03-04', ''], dublin)).toEqual(['ymd'])
  })
})

describe('a record that lacks something', () => {
  const numbered: ColumnMapping = {
    ...mapping,
    fields: { ...mapping.fields, line_id: { from: 'made', columns: ['Bestellung', 'Art'] } },
  }

  it('without an id of its own has one of what it says, and alike ones are counted', () => {
    const faults = new FaultList()
    const reader = mappedReader(numbered, header, { source: 'counterpay', faults })
    const ids = [2, 3, 4].flatMap(row => reader?.read(good, row, faults)?.map(line => line.lineId) ?? [])
    expect(ids).toEqual([
      '17 Verkauf',
      '17 Verkauf/fee',
      '17 Verkauf 2',
      '17 Verkauf 2/fee',
      '17 Verkauf 3',
      '17 Verkauf 3/fee',
    ])
  })

  it('takes what belongs to its order from the record before, and only of the same order', () => {
    const carrying: ColumnMapping = {
      ...mapping,
      fields: { ...mapping.fields, order_id: column('Bestellung') },
      carried: ['Datum', 'Land'],
    }
    const faults = new FaultList()
    const reader = mappedReader(carrying, header, { source: 'counterpay', faults })
    const further = (order: string) => ['V-2', '', 'Verkauf', 'A', order, '', '1,00', '0,16', '0,00', '']
    reader?.read(good, 2, faults)
    expect(reader?.read(further('17'), 3, faults)).toMatchObject([
      { region: 'DE', occurredAt: '2026-03-05T14:30:00+01:00' },
    ])
    expect(reader?.read(further('18'), 4, faults)).toBeNull()
  })

  it('keeps columns that nobody reads with its lines', () =>
    expect(read([...good.slice(0, -1), 'frei Haus']).lines?.[0]?.extra).toEqual({ Notiz: 'frei Haus' }))
})

describe('a record that says what it comes to', () => {
  const netted: ColumnMapping = { ...mapping, net: 'Notiz' }
  it('is held against its movements, and named where they come to something else', () => {
    expect(read([...good.slice(0, -1), '1.222,15'], netted).faults).toEqual([])
    expect(read([...good.slice(0, -1), '1.222,51'], netted)).toEqual({
      lines: null,
      faults: [[7, 'Notiz', '1.222,51 and not 1222.15', 'row_does_not_add']],
    })
  })
})
