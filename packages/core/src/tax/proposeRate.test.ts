import { expect, it } from 'vitest'
import { freeTaxCode, proposeRate } from './proposeRate.ts'

it.each([
  [22.97, 23],
  [13.52, 13.5],
  [0, 0],
  [0.02, 0],
  [19.3, null],
  [-3, null],
  [null, null],
])('reads %s percent seen as %s', (seen, rate) => {
  expect(proposeRate(seen)).toBe(rate)
})

it('names a code by country and rate, and never takes one that there is', () => {
  expect(freeTaxCode('IE', 13.5, [])).toBe('IE13-5')
  expect(freeTaxCode('IE', 23, [{ code: 'IE23' }, { code: 'IE23_2' }])).toBe('IE23_3')
  expect(freeTaxCode('FR', null, [])).toBe('FR')
})
