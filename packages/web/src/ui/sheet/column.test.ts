import { holds } from '@culvert/core'
import { expect, it } from 'vitest'
import { entryOrder, type SheetColumn, sumOf, writtenIn } from './column.ts'

interface Row {
  readonly on: string
  readonly amount: number | null
  readonly currency: string
}
const on: SheetColumn<Row> = { id: 'on', head: 'On', cell: row => row.on, value: row => row.on }
const amount: SheetColumn<Row> = {
  id: 'amount',
  head: 'Amount',
  cell: () => null,
  money: row => ({ minor: row.amount, currency: row.currency }),
}
const row = (minor: number | null, currency = 'EUR'): Row => ({ on: '2026-03-05', amount: minor, currency })

it.each([
  ['en-IE', 123_010, '1,230.10', true],
  ['en-IE', 123_010, '1230.10', true],
  ['en-IE', -123_010, '-1,230', true],
  ['en-IE', 590, '5.90', true],
  ['en-IE', 590_000, '5.90', false],
  ['en-IE', 123_010, '123010', false],
  ['de-DE', 123_010, '1.230,10', true],
  ['de-DE', 123_010, '1230,1', true],
  ['de-DE', 123_010, '1,230', false],
  ['fr-FR', 123_010, '1 230,10', true],
] as const)('in %s the amount %i is found by %s: %s', (locale, minor, typed, found) => {
  expect(holds(writtenIn(amount, row(minor), locale), typed, locale)).toBe(found)
})

it('dates are found as they are read and as they are sorted', () => {
  const written = writtenIn(on, row(1), 'en-IE')
  expect(['5 mar', '2026-03', 'Mar 2026'].map(typed => holds(written, typed, 'en-IE'))).toEqual([true, true, true])
  expect(holds(written, '6 Mar', 'en-IE')).toBe(false)
})

it('entries are sorted by year and number, what is none first', () => {
  const numbers = ['2026-10', '2026-9', null, '2025-100']
  expect(numbers.sort((one, other) => entryOrder(one) - entryOrder(other))).toEqual([
    null,
    '2025-100',
    '2026-9',
    '2026-10',
  ])
})

it('what is selected is added up in one currency only', () => {
  expect(sumOf(amount, [row(1230), row(null), row(-30)])).toEqual({ minor: 1200, currency: 'EUR' })
  expect(sumOf(amount, [row(1230), row(1, 'USD')])).toBeNull()
  expect(sumOf(on, [row(1)])).toBeNull()
})
