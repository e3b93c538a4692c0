import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkClasses, classBook } from './productClass.ts'
import { checkTaxRows, type TaxedAs, type TaxRow, taxBook, taxConditions } from './taxRow.ts'

const sale: TaxedAs = {
  source: 'openhall',
  kind: 'sale',
  label: null,
  region: 'DE-BY',
  class: 'book',
  date: '2026-03-10',
}
const row = (code: string | null, more: Partial<TaxRow> = {}): TaxRow => ({ code, ...more })
const served = (rows: readonly TaxRow[], more: Partial<TaxedAs> = {}) => taxBook(rows).serve({ ...sale, ...more })?.code

describe('the row that serves', () => {
  it('is the narrower, in the order label, region, class, kind, source', () => {
    const rows = [
      row('source', { source: 'openhall' }),
      row('kind', { kind: 'sale', source: 'openhall' }),
      row('class', { class: 'book' }),
      row('country', { region: 'DE' }),
      row('part', { region: 'DE-BY' }),
      row('label', { label: 'VAT 7' }),
    ]
    expect(served(rows, { label: 'VAT 7' })).toBe('label')
    expect(served(rows)).toBe('part')
    expect(served(rows, { region: 'DE' })).toBe('country')
    expect(served(rows, { region: 'DE-BE' })).toBe('country')
    expect(served(rows, { region: 'FR' })).toBe('class')
    expect(served(rows, { region: 'FR', class: '' })).toBe('kind')
    expect(served(rows, { region: null, class: '', kind: 'refund' })).toBe('source')
    expect(served(rows, { region: null, class: '', kind: 'refund', source: 'till' })).toBeUndefined()
    // A part goes before its country even where the country's row names the class.
    expect(served([row('a', { region: 'DE', class: 'book' }), row('b', { region: 'DE-BY' })])).toBe('b')
    // An empty class is met only by rows without one; a country does not serve another that begins alike.
    expect(served([row('a', { class: 'book' })], { class: '' })).toBeUndefined()
    expect(served([row('a', { region: 'D' })])).toBeUndefined()
  })

  it('is the latest on or before the tax date, and may say that there is none on purpose', () => {
    const rows = [row('old'), row('new', { from: '2026-03-10' }), row(null, { from: '2026-04-01' })]
    expect(served(rows, { date: '2026-03-09' })).toBe('old')
    expect(served(rows)).toBe('new')
    expect(served(rows, { date: '2026-04-02' })).toBeNull()
    expect(served([row('later', { from: '2026-04-01' })])).toBeUndefined()
  })

  it('says what it went before, and why', () => {
    const [wide, part, later] = [row('wide'), row('part', { region: 'DE-BY' }), row('later', { from: '2026-01-01' })]
    expect(taxBook([wide, part, later]).explain(sale)).toEqual({
      row: part,
      over: [
        { row: later, by: 'region' },
        { row: wide, by: 'region' },
      ],
    })
    expect(taxBook([wide, later]).explain(sale)).toEqual({ row: later, over: [{ row: wide, by: 'from' }] })
    expect(taxBook([]).explain(sale)).toBeNull()
  })

  it('does not hang on the order in which rows are kept, and agrees with what a look at each pair says', () => {
    const anyRow = fc.record({
      label: fc.constantFrom(null, 'VAT 7'),
      region: fc.constantFrom(null, 'DE', 'DE-BY', 'FR'),
      class: fc.constantFrom(null, 'book', 'kit'),
      kind: fc.constantFrom(null, 'sale' as const, 'refund' as const),
      source: fc.constantFrom(null, 'openhall', 'till'),
      from: fc.constantFrom(null, '2026-01-01', '2026-03-10', '2026-05-01'),
    })
    const anySale = fc.record({
      label: fc.constantFrom(null, 'VAT 7'),
      region: fc.constantFrom(null, 'DE', 'DE-BY', 'FR', 'DE-BE'),
      class: fc.constantFrom('', 'book'),
      kind: fc.constantFrom('sale' as const, 'refund' as const),
    })
    fc.assert(
      fc.property(fc.array(anyRow, { maxLength: 12 }), anySale, fc.nat(), (parts, at, turn) => {
        const rows = parts
          .map((part, index): TaxRow => ({ ...part, code: String(index) }))
          .filter(
            (_, index, all) => !checkTaxRows(all, codes).some(fault => fault.code === 'alike' && fault.row === index),
          )
        const turned = [...rows.slice(turn % (rows.length + 1)), ...rows.slice(0, turn % (rows.length + 1))]
        const found = taxBook(rows).serve({ ...sale, ...at })
        expect(taxBook(turned).serve({ ...sale, ...at })).toEqual(found)
        const narrowness = (one: TaxRow): string =>
          taxConditions
            .map(name => (one[name] ? (name === 'region' && one[name]?.includes('-') ? '2' : '1') : '0'))
            .join('') + (one.from ?? '')
        const fitting = rows.filter(one => taxBook([one]).serve({ ...sale, ...at }))
        expect(found).toEqual(
          [...fitting].sort((left, right) => (narrowness(left) < narrowness(right) ? 1 : -1))[0] ?? null,
        )
      }),
      { numRuns: 3000 },
    )
  })
})

const codes = new Set(Array.from({ length: 12 }, (_, index) => String(index)))

it('rows are refused that are alike, lead nowhere, or are of no supply', () => {
  const rows = [
    row('1', { region: 'DE' }),
    row('2', { region: 'DE', label: '' }),
    row('none'),
    row('3', { kind: 'payout' }),
  ]
  expect(checkTaxRows(rows, codes)).toEqual([
    { code: 'alike', row: 1, other: 0 },
    { code: 'unknown_tax_code', row: 2, taxCode: 'none' },
    { code: 'no_supply', row: 3, kind: 'payout' },
  ])
  expect(checkTaxRows([row(null), row('1', { from: '2026-01-01' })], codes)).toEqual([])
})

it('a class is the SKU’s, else the category’s, else none; an entry names one of the two, each once', () => {
  const book = classBook([
    { sku: 'KIT-1', class: 'reduced' },
    { category: 'Books', class: 'book' },
  ])
  expect(book.classOf({ sku: 'KIT-1', category: 'Books' })).toBe('reduced')
  expect(book.classOf({ sku: 'BOOK-1', category: 'Books' })).toBe('book')
  expect(book.classOf({ sku: 'BOOK-1', category: 'books' })).toBe('')
  expect(book.classOf({ sku: null, category: null })).toBe('')
  expect(
    checkClasses([
      { sku: 'A', class: 'x' },
      { sku: 'A', class: 'y' },
      { sku: 'A', category: 'B', class: 'x' },
      { class: 'x' },
      { category: 'A', class: 'x' },
    ]),
  ).toEqual([
    { code: 'alike', entry: 1, other: 0 },
    { code: 'names_one', entry: 2 },
    { code: 'names_one', entry: 3 },
  ])
})
