import fc from 'fast-check'
import { expect, it } from 'vitest'
import { amountText, dateText, momentText, rangeText, readableDates } from './formats.ts'

it('writes amounts without losing a cent, whatever their size', () => {
  fc.assert(
    fc.property(fc.integer({ min: -9e15, max: 9e15 }), minor => {
      const text = amountText(minor, 'EUR', 'en-IE')
      if (minor === 0) expect(text).toBe('–')
      else expect(Number(text.replace('−', '-').replace(/[,.]/g, ''))).toBe(minor)
    }),
  )
  expect([
    amountText(-123_456, 'EUR', 'en-IE'),
    amountText(1234, 'JPY', 'en-IE'),
    amountText(1_234_567, 'KWD', 'de-DE'),
  ]).toEqual(['−1,234.56', '1,234', '1.234,567'])
})

it('writes dates, ranges and moments as people read them', () => {
  expect([
    dateText('2026-03-05'),
    rangeText('2026-03-09', '2026-03-15'),
    rangeText('2026-03-30', '2026-04-05'),
    rangeText('2025-12-29', '2026-01-04'),
  ]).toEqual(['5 Mar 2026', '9 – 15 Mar 2026', '30 Mar – 5 Apr 2026', '29 Dec 2025 – 4 Jan 2026'])
  expect([
    momentText('2026-06-21 22:00:00+00', 'Europe/Dublin'),
    momentText('2026-06-21T22:00:00Z', 'America/Toronto'),
  ]).toEqual(['21 Jun 2026, 23:00', '21 Jun 2026, 18:00'])
  expect(readableDates('2026-07-07, entry 2026-54')).toBe('7 Jul 2026, entry 2026-54')
})
