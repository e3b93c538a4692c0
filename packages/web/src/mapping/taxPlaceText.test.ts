import { describe, expect, it } from 'vitest'
import { type TaxPlace, taxPlaceFaults, taxPlaceText } from './taxPlaceText.ts'

const place = (more: Partial<TaxPlace> = {}): TaxPlace => ({
  currency: 'EUR',
  region: 'DE',
  class: 'books',
  since: null,
  lines: 3,
  base: 1000,
  booked: 70,
  bookedCodes: ['DE7'],
  byGrid: 70,
  gridCodes: ['DE7'],
  stated: null,
  difference: 0,
  open: 0,
  foreign: 0,
  ...more,
})

describe('a place of the tax check', () => {
  it('is named by where, what and when', () => {
    expect(taxPlaceText(place({ since: '2026-05-14' }))).toBe('DE · books · since 14 May 2026')
    expect(taxPlaceText(place({ region: null, class: '' }))).toBe('not told where · no class')
  })

  it('has nothing to say where all agree, also but for a unit a line that the source rounded', () => {
    expect(taxPlaceFaults(place({ stated: 73 }))).toEqual([])
  })

  it('names all that is wrong, none hiding another', () => {
    expect(taxPlaceFaults(place({ stated: 74, difference: 1, foreign: 5, open: 2 }))).toEqual([
      'booked is not what the grid says',
      'tax of another country, not said why',
      'the source charged something else',
      'no code, or no route',
    ])
  })
})
