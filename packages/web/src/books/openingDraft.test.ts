import { expect, it } from 'vitest'
import { openingForm, openingOf } from './openingDraft.ts'

const line = (account: string, debit: string, credit = '') => ({ account, debit, credit })
const typed = [
  line('1000', '1234.50'),
  line('2200', '', 'a thousand'),
  line('2210', '10,5'),
  line('3000', ''),
  line('4000', '5', '5'),
]

it('adds up both sides, and leaves out what has nothing on it', () => {
  expect(openingOf(typed, 'EUR', 'en-IE')).toEqual({
    lines: [
      { account: '1000', amount: 123_450 },
      { account: '2210', amount: 1050 },
    ],
    debit: 125_000,
    credit: 500,
    wrong: [[1, 'credit']],
  })
})

it('takes a minus on a side for what it is', () => {
  expect(openingOf([line('1000', '−20'), line('3000', '', '-20.00')], 'EUR', 'en-IE')).toEqual({
    lines: [
      { account: '1000', amount: -2000 },
      { account: '3000', amount: 2000 },
    ],
    debit: -2000,
    credit: -2000,
    wrong: [],
  })
})

const faultsOf = (date: string, lines: typeof typed) => {
  const read = openingForm('EUR', 'en-IE').safeParse({ date, typed: lines })
  return read.success ? read.data : read.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)
}

it('names the field that holds no amount, then what the whole lacks', () => {
  expect(faultsOf('2026-01-01', typed)).toEqual(['typed.1.credit: No amount.'])
  expect(faultsOf('2026-01-01', [line('1000', '5')])).toEqual(['typed: at least two accounts hold something'])
  expect(faultsOf('2026-01-01', [line('1000', '5'), line('3000', '', '4')])).toEqual([
    'typed: both sides must come to the same',
  ])
  expect(faultsOf('2026-02-30', [line('1000', '5'), line('3000', '', '5')])).toHaveLength(1)
  expect(faultsOf('2026-01-01', [line('1000', '2+3'), line('3000', '', '5')])).toEqual({
    date: '2026-01-01',
    lines: [
      { account: '1000', amount: 500 },
      { account: '3000', amount: -500 },
    ],
  })
})
