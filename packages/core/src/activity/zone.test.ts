import { describe, expect, it } from 'vitest'
import { cutOffMinutes, zoneOf } from './zone.ts'

const at = (text: string): number => Date.parse(text)

describe('local dates', () => {
  it.each([
    ['Europe/Dublin', '2026-03-31T22:30:00Z', '2026-03-31'],
    ['Europe/Dublin', '2026-03-31T23:10:00Z', '2026-04-01'],
    ['America/Los_Angeles', '2026-05-11T06:59:59Z', '2026-05-10'],
    ['Pacific/Kiritimati', '2026-01-01T10:00:00Z', '2026-01-02'],
    ['Asia/Kathmandu', '2026-01-01T18:15:00Z', '2026-01-02'],
  ])('in %s %s is %s', (zone, instant, date) => expect(zoneOf(zone).localDate(at(instant))).toBe(date))
})

describe('business days', () => {
  const toronto = zoneOf('America/Toronto')
  const cutOff = cutOffMinutes('04:30')
  it.each([
    ['2026-03-07T01:40:00-05:00', '2026-03-06'],
    ['2026-03-07T04:29:59-05:00', '2026-03-06'],
    ['2026-03-07T04:30:00-05:00', '2026-03-07'],
    // The night in which the clock goes forward (8 March) and the one in which it goes back (1 November).
    ['2026-03-08T04:29:59-04:00', '2026-03-07'],
    ['2026-03-08T04:30:00-04:00', '2026-03-08'],
    ['2026-11-01T04:29:59-05:00', '2026-10-31'],
    ['2026-11-01T04:30:00-05:00', '2026-11-01'],
  ])('%s belongs to %s', (instant, day) => expect(toronto.businessDay(at(instant), cutOff)).toBe(day))
  it('takes the first where the clock shows the cut-off twice, the next instant where it never does', () => {
    // 01:30 comes twice on 1 November; 02:30 does not come on 8 March, the clock goes from 02:00 to 03:00.
    expect(toronto.businessDay(at('2026-11-01T01:30:00-04:00'), 90)).toBe('2026-11-01')
    expect(toronto.businessDay(at('2026-03-08T01:59:59-05:00'), 150)).toBe('2026-03-07')
    expect(toronto.businessDay(at('2026-03-08T03:00:00-04:00'), 150)).toBe('2026-03-08')
  })
  it('is the local date without a cut-off', () =>
    expect(zoneOf('Europe/Dublin').businessDay(at('2026-07-01T22:59:59Z'), 0)).toBe('2026-07-01'))
})

it('knows no zone of another name', () => expect(() => zoneOf('Galway/Harbour')).toThrow(RangeError))
