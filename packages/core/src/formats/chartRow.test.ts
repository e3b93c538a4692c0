import { expect, it } from 'vitest'
import { accountTypes } from '../activity/kinds.ts'
import { accountTypeOf, chartReader } from './chartRow.ts'
import { FaultList } from './fault.ts'
import { measuredHeads } from './heads/measuredHeads.ts'

const charts = measuredHeads.filter(head => head.of === 'chart')

const read = (header: readonly string[], rows: readonly (readonly string[])[]) => {
  const faults = new FaultList()
  const reader = chartReader(header, { base: 'EUR', sample: rows, faults })
  const accounts = rows.flatMap((row, at) => reader?.read(row, at + 2, faults) ?? [])
  return { accounts, faults: faults.shown.map(({ row, column, code }) => [row, column, code]) }
}

it.each(charts)('$name: a bank and an income account', ({ header, rows }) => {
  const { accounts, faults } = read(header, rows)
  expect(faults).toEqual([])
  expect(accounts.map(one => [one.code, one.type, one.currency])).toEqual([
    [rows[0]?.[0], 'bank', 'EUR'],
    [rows[1]?.[0], 'income', 'EUR'],
  ])
})

it('every type has its own name', () => {
  for (const type of accountTypes) expect(accountTypeOf(type.replaceAll('_', ' '))).toBe(type)
})

it('a word that is not known leaves the type open, and is kept', () =>
  expect(read(['Number', 'Name', 'Type'], [['1', 'A', 'Zorp']]).accounts).toMatchObject([
    { type: null, typeWord: 'Zorp' },
  ]))

it('names what is wrong', () => {
  const header = ['Number', 'Name', 'Currency']
  expect(
    read(header, [
      ['1', 'A', ''],
      ['1', 'B', ''],
      ['', 'C', ''],
      ['4', '', ''],
      ['5', 'E', 'XXY'],
      ['', '', ''],
    ]).faults,
  ).toEqual([
    [3, 'code', 'twice_in_file'],
    [4, 'code', 'empty'],
    [5, 'name', 'empty'],
    [6, 'currency', 'unknown_currency'],
  ])
  expect(read(['X', 'Y'], [['1', '2']]).faults).toEqual([
    [1, 'code', 'missing_column'],
    [1, 'name', 'missing_column'],
  ])
})
