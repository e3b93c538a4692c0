import { expect, it } from 'vitest'
import { bookingDays } from './bookingDay.ts'

const with_ = (...codes: readonly string[]) => codes.map(taxCode => ({ taxCode }))

it('an entry is on its own day, or the first that no lock and no filing of what it feeds holds', () => {
  const days = bookingDays(
    new Set(['2026-01', '2026-05']),
    [
      { from: '2026-01-01', to: '2026-02-28', registration: 1 },
      { from: '2026-03-01', to: '2026-04-30', registration: 1 },
      { from: '2026-03-01', to: '2026-03-31', registration: 2 },
    ],
    new Map([
      ['IE23', 1],
      ['DE19', 2],
    ]),
  )
  const day = (date: string, ...codes: readonly string[]) => days.dayFor({ date, lines: with_('', ...codes) })
  // Without tax, locks alone move it.
  expect(day('2026-01-31')).toBe('2026-02-01')
  expect(day('2026-02-10')).toBe('2026-02-10')
  // A filing moves what feeds it, over further filings and locks.
  expect(day('2026-02-10', 'IE23')).toBe('2026-06-01')
  expect(day('2026-02-10', 'DE19')).toBe('2026-02-10')
  expect(day('2026-03-31', 'DE19')).toBe('2026-04-01')
  expect(day('2026-03-31', 'DE19', 'IE23')).toBe('2026-06-01')
  // A code that belongs to no registration may feed either.
  expect(day('2026-03-31', 'FR20')).toBe('2026-06-01')
  // What was filed before registrations were kept holds every code.
  const before = bookingDays(
    new Set(),
    [{ from: '2026-03-01', to: '2026-03-31', registration: null }],
    new Map([['DE19', 2]]),
  )
  expect(before.dayFor({ date: '2026-03-09', lines: with_('DE19') })).toBe('2026-04-01')
})
