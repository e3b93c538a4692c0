import { describe, expect, it } from 'vitest'
import { FaultList } from './fault.ts'
import { type ListTold, readBalanceList, readItemList, readRateList, readTaxList, referenceRates } from './listRows.ts'

const records = (rows: readonly (readonly string[])[]) => rows.map((row, at) => [row, at + 2] as const)
const rates = (header: readonly string[], rows: readonly (readonly string[])[], told: ListTold = {}) => {
  const faults = new FaultList()
  return { ...readRateList(header, records(rows), { faults, told, base: 'EUR' }), faults: faults.shown }
}
const balances = (header: readonly string[], rows: readonly (readonly string[])[], told: ListTold = {}) => {
  const faults = new FaultList()
  return { ...readBalanceList(header, records(rows), { faults, told, base: 'EUR' }), faults: faults.shown }
}

describe('a list of rates', () => {
  it('is read by its heads, in any order, with the client’s own currency where it names one alone', () => {
    expect(rates(['Kurs', 'Datum', 'Währung'], [['1,0832', '30.06.2026', 'usd']])).toMatchObject({
      rates: [{ date: '2026-06-30', from: 'EUR', to: 'USD', rate: '1.0832' }],
      faults: [],
    })
    expect(rates(['date', 'from', 'to', 'rate'], [['2026-06-30', 'CAD', 'EUR', '0.67']]).rates).toEqual([
      { date: '2026-06-30', from: 'CAD', to: 'EUR', rate: '0.67' },
    ])
  })
  it('asks where a number or a date could be read two ways, and takes what is said', () => {
    const header = ['date', 'currency', 'rate']
    const asked = rates(header, [['05/03/2026', 'USD', '1,083']])
    expect([asked.rates, asked.asks.map(one => one.what)]).toEqual([[], ['decimal', 'order']])
    const told = rates(header, [['05/03/2026', 'USD', '1,083']], { decimal: ',', order: 'dmy' })
    expect(told.rates).toEqual([{ date: '2026-03-05', from: 'EUR', to: 'USD', rate: '1.083' }])
    // One that can be read one way alone asks nothing.
    expect(rates(header, [['25/03/2026', 'USD', '1,08']]).asks).toEqual([])
  })
  it('names what is wrong by its row, and a day that comes twice', () => {
    const { faults } = rates(
      ['date', 'from', 'to', 'rate'],
      [
        ['2026-02-30', 'USD', 'EUR', '0.9'],
        ['2026-03-01', 'XXZ', 'EUR', '0.9'],
        ['2026-03-01', 'USD', 'USD', '0.9'],
        ['2026-03-01', 'USD', 'EUR', '0'],
        ['2026-03-02', 'USD', 'EUR', '0.9'],
        ['2026-03-02', 'USD', 'EUR', '0.91'],
      ],
    )
    expect(faults.map(fault => [fault.row, fault.code])).toEqual([
      [2, 'not_a_date'],
      [3, 'unknown_currency'],
      [4, 'unknown_currency'],
      [5, 'not_an_amount'],
      [7, 'twice_in_file'],
    ])
    expect(rates(['when', 'what'], [['x', 'y']]).faults.map(fault => fault.column)).toEqual(['date', 'rate'])
  })
})

it('reads reference rates by day and currency, and leaves what is no currency', () => {
  const reader = referenceRates()
  for (const attributes of [
    {},
    { time: '2026-06-30' },
    { currency: 'USD', rate: '1.0832' },
    { currency: '???', rate: '9' },
    { time: '2026-06-29' },
    { currency: 'CAD', rate: '1.4790' },
  ])
    reader.take({ name: 'Cube', attributes: attributes as Record<string, string> })
  reader.take({ name: 'gesmes:Envelope', attributes: { currency: 'USD', rate: '1' } })
  expect(reader.records.map(([record]) => record)).toEqual([
    ['2026-06-30', 'EUR', 'USD', '1.0832'],
    ['2026-06-29', 'EUR', 'CAD', '1.4790'],
  ])
})

describe('a list of balances', () => {
  it('is read in two columns or in one, a debit being plus', () => {
    const two = balances(
      ['Konto', 'Bezeichnung', 'Soll', 'Haben'],
      [
        ['1200', 'Girokonto', '1.500,50', ''],
        ['0800', 'Eigenkapital', '', '1.500,50'],
        ['', 'Summe', '1.500,50', '1.500,50'],
        ['1000', 'Kasse', '0,00', ''],
      ],
    )
    expect(two.balances).toEqual([
      { row: 2, account: '1200', amount: 150_050 },
      { row: 3, account: '0800', amount: -150_050 },
    ])
    expect(balances(['account', 'balance'], [['1000', '(20.50)']]).balances).toEqual([
      { row: 2, account: '1000', amount: -2050 },
    ])
  })
  it('names an account that comes twice, and what is no amount', () => {
    const { faults } = balances(
      ['account', 'balance'],
      [
        ['1000', '5.00'],
        ['1000', '6.00'],
        ['1010', 'much'],
        ['1020', '1.001'],
      ],
      { decimal: '.' },
    )
    expect(faults.map(fault => [fault.row, fault.code])).toEqual(
      [
        [4, 'not_an_amount'],
        [5, 'too_many_digits'],
        [3, 'twice_in_file'],
      ].sort((left, right) => Number(left[0]) - Number(right[0])),
    )
  })
})

it('reads a list of items with what it tells, and asks about its costs', () => {
  const read = (cost: string, told: ListTold = {}) => {
    const faults = new FaultList()
    const found = readItemList(
      ['SKU', 'Description', 'Income account', 'Cost price'],
      records([['BOWL-1', 'Bowl', '4000', cost]]),
      {
        ...{ faults, told, base: 'EUR' },
      },
    )
    return { ...found, faults: faults.shown.map(fault => fault.code) }
  }
  expect(read('12.50')).toEqual({
    items: [{ row: 2, code: 'BOWL-1', name: 'Bowl', account: '4000', taxCode: null, cost: 1250 }],
    ...{ asks: [], faults: [] },
  })
  expect(read('1,250').asks).toEqual([{ what: 'decimal', value: '1,250' }])
  expect(read('').items[0]?.cost).toBeNull()
  expect(read('cheap').faults).toEqual(['not_an_amount'])
})

describe('a list of tax codes', () => {
  const read = (header: string, rows: readonly string[], told: ListTold = {}) => {
    const faults = new FaultList()
    const records = rows.map((row, at) => [row.split(';'), at + 2] as const)
    return { ...readTaxList(header.split(';'), records, { faults, told }), faults: faults.shown }
  }
  it('is read by its heads and words, a rate a row', () => {
    const { taxes, faults } = read('Steuerschlüssel;Bezeichnung;Satz;gültig ab;Konto;Land;Art;Preisart', [
      'DE19;Umsatzsteuer;19,0 %;2021-01-01;1776;de;Umsatzsteuer;brutto',
      'DE19;Umsatzsteuer;16,0 %;2020-07-01;;;;',
      'VST;Vorsteuer;7;;;;Vorsteuer;netto',
      'X;;5;;;;Sonstiges;',
    ])
    expect(faults).toEqual([])
    expect(taxes.map(({ row: _, ...tax }) => Object.values(tax))).toEqual([
      ['DE19', 'Umsatzsteuer', '19.0', '2021-01-01', '1776', 'DE', 'sales', 'inclusive'],
      ['DE19', 'Umsatzsteuer', '16.0', '2020-07-01', null, null, 'sales', null],
      ['VST', 'Vorsteuer', '7', null, null, null, 'purchases', 'exclusive'],
      ['X', 'X', '5', null, null, null, 'unknown', null],
    ])
  })
  it('names what is wrong by its row, and asks about a day that reads two ways', () => {
    expect(
      read('code;rate;country', ['A;120;IE', 'A;x;', ';5;', 'B;5;Ireland']).faults.map(one => [
        one.row,
        one.column,
        one.code,
      ]),
    ).toEqual([
      [2, 'rate', 'not_an_amount'],
      [3, 'rate', 'not_an_amount'],
      [3, 'code', 'twice_in_file'],
      [4, 'code', 'empty'],
      [5, 'country', 'not_a_region'],
    ])
    expect(read('code;rate;from', ['A;23;3/5/2026']).asks).toEqual([{ what: 'order', value: '3/5/2026' }])
    expect(read('code;rate;from', ['A;23;3/5/2026'], { order: 'dmy' }).taxes[0]?.from).toBe('2026-05-03')
    expect(read('name;rate', ['A;23']).faults).toMatchObject([{ column: 'code', code: 'missing_column' }])
  })
})
