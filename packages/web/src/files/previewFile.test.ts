import type { SavedColumns } from '@culvert/contract'
import { proposeBankChoice, proposeChoice, proposeRowChoice } from '@culvert/core'
import { expect, it } from 'vitest'
import { previewFile } from './previewFile.ts'

const header = ['Id', 'Date', 'Type', 'Gross', 'Fee', 'Net', 'Currency']
const rows = [
  ['1', '2026-04-21', 'Payment', '10.00', '-0.30', '9.70', 'EUR'],
  ['2', '2026-04-22', 'Refund', '-4.00', '0.00', '-4.00', 'EUR'],
  ['3', '2026-04-23', 'Zorp', '1.00', '0.00', '1.00', 'EUR'],
]
const { choice } = proposeChoice(header, rows, { shape: 'gateway', timeZone: 'UTC' })
const said = (change: Partial<typeof choice>): SavedColumns => ({
  of: 'activity',
  choice: { ...choice, ...change },
  encoding: null,
  sheet: null,
})
const preview = (change: Partial<typeof choice>, of = rows) => previewFile({ said: said(change), header, rows: of })

it('says what is open of it, with the money of each word, and makes what can be made', () => {
  const { lacking, words, lines, sums, faultCount } = preview({})
  expect(lacking).toEqual([{ code: 'kind_open', text: 'the kind of “Zorp”' }])
  expect(words).toEqual([
    { word: 'Payment', rows: 1, amount: 10 },
    { word: 'Refund', rows: 1, amount: -4 },
    { word: 'Zorp', rows: 1, amount: 1 },
  ])
  expect([lines, sums, faultCount]).toEqual([3, { EUR: 570 }, 1])
})

it('leaves rows out whose word is said to be left out', () => {
  const { lacking, lines, faultCount } = preview({ kinds: { ...choice.kinds, Zorp: null } })
  expect([lacking, lines, faultCount]).toEqual([[], 3, 0])
})

it('names the row that does not come to its net, and takes it as it is where that is said', () => {
  const odd = [['1', '2026-04-21', 'Payment', '10.00', '-0.30', '9.60', 'EUR']]
  expect(preview({}, odd).faults).toMatchObject([{ row: 2, column: 'Net', code: 'row_does_not_add' }])
  expect(preview({ holdNet: false }, odd)).toMatchObject({ faultCount: 0, lines: 2 })
})

it('makes nothing while a column is lacking or said twice', () => {
  const without = choice.columns.map(one => (one.meaning === 'occurred_at' ? { ...one, meaning: null } : one))
  expect(preview({ columns: without })).toMatchObject({
    lines: 0,
    lacking: [{ code: 'no_time' }, { code: 'kind_open' }],
  })
  const twice = choice.columns.map(one => (one.name === 'Id' ? { ...one, meaning: 'kind' as const } : one))
  expect(preview({ columns: twice }).lacking[0]).toEqual({
    code: 'meaning_twice',
    text: 'Id and Type cannot both be the kind',
  })
})

it('shows a bank statement before anybody said of which account it is', () => {
  const head = ['Date', 'Details', 'Amount']
  const lines = [['22/04/2026', 'CLAY', '-5.00']]
  const { columns, ...bank } = proposeBankChoice(head, lines).choice
  const of: SavedColumns = {
    of: 'bank',
    choice: { ...bank, columns: [...columns], currency: 'EUR' },
    encoding: null,
    sheet: null,
  }
  const shown = previewFile({ said: of, header: head, rows: lines })
  expect(shown.lacking.map(one => one.code)).toEqual(['no_account'])
  expect(shown.made).toMatchObject([{ row: 2, day: '2026-04-22', amount: -500 }])
})

it('shows settlements and balances as rows of their own, and adds none of them up', () => {
  const head = ['Statement no', 'From', 'To', 'Opening balance', 'Closing balance']
  const rows = [['S-1', '2026-04-01', '2026-04-30', '0.00', '12.50']]
  const { choice } = proposeRowChoice('settlements', head, rows)
  const said = (currency: string | null): SavedColumns => ({
    of: 'settlements',
    choice: { ...choice, columns: [...choice.columns], currency },
    ...{ encoding: null, sheet: null },
  })
  expect(previewFile({ said: said(null), header: head, rows }).lacking.map(one => one.text)).toEqual(['the currency'])
  const shown = previewFile({ said: said('EUR'), header: head, rows })
  expect(shown).toMatchObject({ lines: 1, sums: {}, faults: [] })
  expect(shown.made).toMatchObject([{ row: 2, day: '2026-04-30', what: 'S-1', of: 'from 2026-04-01', amount: 1250 }])
})
