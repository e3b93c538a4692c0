import { expect, it } from 'vitest'
import { openingOf } from './openingDraft.ts'

it('adds up both sides, and leaves out what has nothing on it', () => {
  const draft = {
    1000: { debit: '1234.50', credit: '' },
    2200: { debit: '', credit: 'a thousand' },
    2210: { debit: '10,5', credit: '' },
    3000: { debit: '', credit: '' },
    4000: { debit: '5', credit: '5' },
  }
  expect(openingOf(draft, 'EUR', 'en-IE')).toEqual({
    lines: [
      { account: '1000', amount: 123_450 },
      { account: '2210', amount: 1050 },
    ],
    debit: 125_000,
    credit: 500,
    wrong: new Set(['2200']),
  })
})

it('takes a minus on a side for what it is', () => {
  expect(
    openingOf({ 1000: { debit: '−20', credit: '' }, 3000: { debit: '', credit: '-20.00' } }, 'EUR', 'en-IE'),
  ).toEqual({
    lines: [
      { account: '1000', amount: -2000 },
      { account: '3000', amount: 2000 },
    ],
    debit: -2000,
    credit: -2000,
    wrong: new Set(),
  })
})
