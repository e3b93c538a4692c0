import { dateOfDay, dayNumber } from '@culvert/core'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { dateText } from './formats.ts'
import { typedDate } from './typedDate.ts'

it.each([
  ['5 Mar 2026', 'en-IE', '2026-03-05'],
  ['5 march 26', 'en-IE', '2026-03-05'],
  ['March 5, 2026', 'en-US', '2026-03-05'],
  ['5/3/2026', 'en-IE', '2026-03-05'],
  ['5/3/2026', 'en-US', '2026-05-03'],
  ['05.03.26', 'de-DE', '2026-03-05'],
  ['5 März 2026', 'de-DE', '2026-03-05'],
  ['5 févr. 2026', 'fr-FR', '2026-02-05'],
  ['2026-03-05', 'en-US', '2026-03-05'],
  ['2026/3/5', 'en-IE', '2026-03-05'],
  ['31/2/2026', 'en-IE', null],
  ['29 Feb 2026', 'en-IE', null],
  ['5 Mai 2026', 'en-IE', null],
  ['5/3', 'en-IE', null],
  ['tomorrow', 'en-IE', null],
  ['', 'en-IE', null],
] as const)('%s in %s is %s', (text, locale, date) => {
  expect(typedDate(text, locale)).toBe(date)
})

it('what is shown of a date says the same date again, in any locale', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: dayNumber('2000-01-01'), max: dayNumber('2099-12-31') }).map(dateOfDay),
      fc.constantFrom('en-IE', 'en-US', 'en-CA', 'de-DE', 'fr-FR', 'es-ES'),
      (date, locale) => {
        const numbers = new Intl.DateTimeFormat(locale, { timeZone: 'UTC' }).format(new Date(`${date}T00:00:00Z`))
        expect([date, dateText(date), numbers].map(text => typedDate(text, locale))).toEqual([date, date, date])
      },
    ),
  )
})
