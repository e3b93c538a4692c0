import { expect, it } from 'vitest'
import { postedText, takenBackText } from './outcomeText.ts'

const key = (name: string) => ({ source: 'openhall', key: name, currency: 'EUR' })

it('posting says what was done, what was left out and why, and what was not tried', () => {
  expect(postedText({ posted: [key('A')], entries: 1, notPosted: [], brokenOff: null })).toBe(
    'Posted 1 settlement, 1 entry.',
  )
  expect(
    postedText({
      posted: [key('A'), key('B')],
      entries: 4,
      notPosted: [
        { key: key('C'), reason: 'elsewhere' },
        { key: key('D'), reason: 'blocked', blocks: [{ reason: 'unmapped', amount: 100, concerned: [] }] },
        { key: key('E'), reason: 'posted' },
        { key: key('F'), reason: 'set_aside' },
      ],
      brokenOff: { left: 130 },
    }),
  ).toBe(
    'Posted 2 settlements, 4 entries. Left out: C: elsewhere; D: not mapped; E: posted already; F: set aside. ' +
      'Then something went wrong: 130 settlements were not tried. What is done stays done; look, and go on.',
  )
})

it('of many that are left for one reason a few are named, and all counted', () => {
  const notPosted = Array.from({ length: 1200 }, (_, index) => ({ key: key(`S${index}`), reason: 'posted' as const }))
  expect(postedText({ posted: [], entries: 0, notPosted, brokenOff: null })).toBe(
    'Posted 0 settlements, 0 entries. Left out: S0, S1, S2 and 1,197 more: posted already.',
  )
})

it('taking back says what keeps a settlement from it', () => {
  expect(
    takenBackText({
      takenBack: [key('A')],
      entries: 2,
      refused: [
        { key: key('B'), reason: 'paired' },
        { key: key('C'), reason: 'not_posted' },
      ],
      brokenOff: { left: 1 },
    }),
  ).toBe(
    'Took back 1 settlement by 2 reversals. Left: B: its deposit is confirmed; take that apart on the Bank page first; C: not posted. ' +
      'Then something went wrong: 1 settlement was not tried. What is done stays done; look, and go on.',
  )
})
