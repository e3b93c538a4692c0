import { describe, expect, it } from 'vitest'
import { classBook } from './productClass.ts'
import { type DatedLine, goesAlong, supplyBook } from './supply.ts'

const classes = classBook([{ category: 'Books', class: 'book' }])
let count = 0
const line = (lineId: string, kind: DatedLine['kind'], more: Partial<DatedLine> = {}): DatedLine => ({
  source: 'openhall',
  lineId,
  kind,
  instant: ++count,
  localDate: '2026-04-10',
  orderId: null,
  relatedId: null,
  sku: null,
  category: null,
  region: null,
  currency: 'EUR',
  amount: 1000,
  ...more,
})
const of = (lines: readonly DatedLine[], wanted: DatedLine) => supplyBook(lines, classes).factsOf(wanted)

describe('what a refund belongs to', () => {
  const plate = line('plate', 'sale', {
    orderId: '1',
    sku: 'PLATE',
    category: 'Tableware',
    region: 'IE',
    localDate: '2026-03-01',
  })
  const book = line('book', 'sale', {
    orderId: '1',
    sku: 'BOOK-1',
    category: 'Books',
    region: 'DE',
    localDate: '2026-03-02',
  })
  const other = line('other', 'sale', {
    orderId: '1',
    sku: 'BOOK-2',
    category: 'Books',
    region: 'FR',
    localDate: '2026-03-03',
  })
  const known = [other, book, plate]

  it('is the line that it names, in whatever order, by its id alone', () => {
    const refund = line('r', 'refund', { orderId: '9', relatedId: 'book' })
    expect(of(known, refund)).toEqual({ date: '2026-03-02', region: 'DE', class: 'book', of: 'book' })
    // Of another source, or of a line that is no supply, an id names nothing here.
    expect(of(known, { ...refund, source: 'till' })).toMatchObject({ of: null, date: '2026-04-10' })
    const payout = line('p', 'payout', { localDate: '2026-01-01' })
    expect(of([...known, payout], line('r', 'refund', { relatedId: 'p' })).of).toBeNull()
  })

  it('is else the order’s earliest sale of its SKU, of its category, or any', () => {
    expect(of(known, line('r', 'refund', { orderId: '1', sku: 'BOOK-2', category: 'Tableware' })).of).toBe('other')
    expect(of(known, line('r', 'refund', { orderId: '1', sku: 'GONE', category: 'Books' })).of).toBe('book')
    expect(of(known, line('r', 'refund', { orderId: '1', category: 'Gone' })).of).toBe('plate')
    expect(of(known, line('r', 'shipping_refund', { orderId: '1' })).of).toBe('plate')
    expect(of(known, line('r', 'tax_refund', { orderId: '1' })).of).toBe('plate')
    expect(of(known, line('d', 'discount', { orderId: '1' })).of).toBe('plate')
    expect(of(known, line('d', 'discount', { relatedId: 'book' })).of).toBeNull()
    expect(of(known, line('r', 'refund', { orderId: '2' }))).toEqual({
      date: '2026-04-10',
      region: null,
      class: '',
      of: null,
    })
    // Two sales at one instant: the lower id.
    const twins = ['b', 'a'].map(id => line(id, 'sale', { orderId: '7', instant: 5 }))
    expect(of(twins, line('r', 'refund', { orderId: '7' })).of).toBe('a')
  })

  it('is followed on where that goes back itself, and is nothing in a circle', () => {
    const again = line('again', 'refund', { relatedId: 'first' })
    const first = line('first', 'refund', { relatedId: 'book', region: 'XX' })
    expect(of([...known, first], again)).toMatchObject({ of: 'book', region: 'DE' })
    // What the refund before it belongs to is not known: then it is that refund.
    expect(of([first], again)).toMatchObject({ of: 'first', region: 'XX' })
    const [one, two] = [line('one', 'refund', { relatedId: 'two' }), line('two', 'refund', { relatedId: 'one' })]
    expect(of([one, two], one)).toMatchObject({ of: null })
    expect(of([], line('self', 'refund', { relatedId: 'self' }))).toMatchObject({ of: null })
    expect(of([one, two], line('r', 'refund', { relatedId: 'one', region: 'IE' }))).toMatchObject({
      of: null,
      region: 'IE',
    })
  })

  it('has its own class where it names a product, and is no matter to what does not go back', () => {
    expect(of(known, line('r', 'refund', { orderId: '1', category: 'Books', relatedId: 'plate' })).class).toBe('book')
    expect(of(known, line('s', 'shipping', { orderId: '1', region: 'IE' }))).toMatchObject({ of: null, region: 'IE' })
    expect(of(known, line('s', 'sale', { orderId: '1', relatedId: 'book' })).of).toBeNull()
  })
})

describe('an order’s basket', () => {
  it('holds the classes of its sales that come to something, in order of code point', () => {
    const sale = (amount: number, category: string | null, more: Partial<DatedLine> = {}) =>
      line(`b${++count}`, 'sale', { orderId: '1', category, amount, ...more })
    const basket = (lines: readonly DatedLine[]) =>
      supplyBook(
        lines,
        classBook([
          { category: 'Books', class: 'book' },
          { category: 'Zoo', class: 'Zoo' },
          { category: 'Gone', class: 'gone' },
        ]),
      )
        .basketOf(line('s', 'shipping', { orderId: '1' }))
        .map(part => [part.class, Number(part.amount)])
    expect(
      basket([
        sale(500, 'Books'),
        sale(700, 'Books'),
        sale(300, 'Tableware'),
        sale(200, 'Zoo'),
        sale(400, 'Gone'),
        sale(-400, 'Gone'),
        sale(9000, 'Books', { currency: 'USD' }),
        sale(9000, 'Books', { source: 'till' }),
        line('r', 'refund', { orderId: '1', category: 'Books', amount: -500 }),
      ]),
    ).toEqual([
      ['', 300],
      ['Zoo', 200],
      ['book', 1200],
    ])
    expect(basket([sale(500, 'Books'), sale(-500, 'Zoo')])).toEqual([])
    expect(basket([])).toEqual([])
  })

  it('is looked at by what names its order and no product', () => {
    expect(goesAlong(line('s', 'shipping', { orderId: '1' }))).toBe(true)
    expect(goesAlong(line('s', 'discount', { orderId: '1' }))).toBe(true)
    expect(goesAlong(line('s', 'discount', { orderId: '1', sku: 'X' }))).toBe(false)
    expect(goesAlong(line('s', 'shipping', { orderId: '1', category: 'X' }))).toBe(false)
    expect(goesAlong(line('s', 'shipping'))).toBe(false)
    expect(goesAlong(line('s', 'surcharge', { orderId: '1' }))).toBe(false)
  })
})
