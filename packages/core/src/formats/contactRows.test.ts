import { describe, expect, it } from 'vitest'
import { readContactList, readOpenItemList } from './contactRows.ts'
import { FaultList } from './fault.ts'
import type { ListTold } from './listRows.ts'

const records = (rows: readonly (readonly string[])[]) => rows.map((row, at) => [row, at + 2] as const)
const contacts = (header: readonly string[], rows: readonly (readonly string[])[]) => {
  const faults = new FaultList()
  return { ...readContactList(header, records(rows), { faults }), faults: faults.shown }
}
const items = (
  header: readonly string[],
  rows: readonly (readonly string[])[],
  { sort = 'invoice', ...told }: ListTold & { sort?: 'invoice' | 'bill' } = {},
) => {
  const faults = new FaultList()
  return { ...readOpenItemList(header, records(rows), { faults, told, base: 'EUR', sort }), faults: faults.shown }
}

describe('a list of contacts', () => {
  it('is read by its heads in several languages; one without a number goes by its name', () => {
    expect(
      contacts(['Kundennummer', 'Firma', 'Art', 'Land'], [['70001', 'Harbour Café', 'Kunde', 'de']]).contacts,
    ).toEqual([
      { row: 2, code: '70001', name: 'Harbour Café', sort: 'customer', email: null, taxNumber: null, country: 'DE' },
    ])
    expect(contacts(['Nom', 'Courriel'], [['Argile du Midi', 'bonjour@argile.example']]).contacts[0]).toMatchObject({
      code: 'Argile du Midi',
      sort: null,
      email: 'bonjour@argile.example',
    })
  })
  it('names what is wrong, and one that comes twice', () => {
    const told = contacts(
      ['Number', 'Name', 'Type', 'Country'],
      [
        ['1', '', 'customer', ''],
        ['2', 'A', 'cousin', ''],
        ['2', 'B', '', 'Ireland'],
      ],
    )
    expect(told.faults.map(({ row, column, code }) => [row, column, code])).toEqual([
      [2, 'name', 'empty'],
      [3, 'sort', 'unknown_word'],
      [4, 'code', 'twice_in_file'],
      [4, 'country', 'not_a_region'],
    ])
    expect(contacts(['Colour'], [['red']]).faults[0]).toMatchObject({ row: 1, column: 'name', code: 'missing_column' })
  })
})

describe('a list of open invoices and bills', () => {
  const header = ['Invoice no', 'Customer', 'Date', 'Due date', 'Total', 'Outstanding']
  it('tells what is still open of each, and leaves out what is paid and totals', () => {
    const told = items(header, [
      ['R-1', 'Harbour Café', '2026-03-15', '2026-04-14', '120.00', '20.00'],
      ['R-2', 'Harbour Café', '2026-03-16', '', '50.00', '0.00'],
      ['', '', '', '', '170.00', '20.00'],
    ])
    expect(told).toMatchObject({ faults: [], asks: [] })
    expect(told.items).toEqual([
      {
        row: 2,
        sort: 'invoice',
        number: 'R-1',
        contact: 'Harbour Café',
        date: '2026-03-15',
        due: '2026-04-14',
        currency: 'EUR',
        amount: 12_000,
        open: 2000,
      },
    ])
  })
  it('takes what is below zero for a bill, unless a column says what each is', () => {
    const short = ['Number', 'Contact', 'Date', 'Amount']
    expect(items(short, [['B-1', 'Argile', '2026-03-01', '-30.50']]).items[0]).toMatchObject({
      sort: 'bill',
      open: 3050,
    })
    expect(items(short, [['B-1', 'Argile', '2026-03-01', '30.50']], { sort: 'bill' }).items[0]).toMatchObject({
      sort: 'bill',
    })
    // A credit note is an invoice below zero.
    expect(items(['Type', ...short], [['Invoice', 'C-1', 'Argile', '2026-03-01', '-30.50']]).items[0]).toMatchObject({
      sort: 'invoice',
      open: -3050,
    })
  })
  it('asks what could be read two ways, and names faults by row', () => {
    expect(items(header, [['R-1', 'A', '03/04/2026', '', '1,234', '1,234']]).asks.map(one => one.what)).toEqual([
      'decimal',
      'order',
    ])
    const { faults } = items(header, [
      ['R-1', 'A', '2026-02-30', '', '1.00', '1.00'],
      ['', 'A', '2026-02-20', 'soon', '1.00', '1.005'],
      ['R-3', 'A', '2026-02-20', '', '', ''],
      ['R-4', 'A', '2026-02-20', '', '1.00', ''],
      ['R-4', 'A', '2026-02-20', '', '2.00', ''],
    ])
    expect(faults.map(({ row, column, code }) => [row, column, code])).toEqual([
      [2, 'date', 'not_a_date'],
      [3, 'number', 'empty'],
      [3, 'due', 'not_a_date'],
      [3, 'open', 'too_many_digits'],
      [4, 'open', 'empty'],
      [6, 'number', 'twice_in_file'],
    ])
  })
})
