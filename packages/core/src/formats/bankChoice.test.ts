import { expect, it } from 'vitest'
import { type BankChoice, bankChoiceReader, checkBankChoice, proposeBankChoice } from './bankChoice.ts'
import { FaultList } from './fault.ts'
import { measuredHeads } from './heads/measuredHeads.ts'

const statements = measuredHeads.filter(head => head.of === 'bank')

const read = (choice: BankChoice, header: readonly string[], rows: readonly (readonly string[])[]) => {
  const faults = new FaultList()
  const reader = bankChoiceReader(choice, header, faults)
  const lines = rows.flatMap((row, at) => reader?.read(row, at + 2, faults) ?? [])
  return { lines, reader, faults: faults.shown.map(({ row, column, code }) => [row, column, code]) }
}

it.each(statements)('$name: two lines, in and out, once currency and account are said', ({ header, rows }) => {
  const { choice, questions } = proposeBankChoice(header, rows)
  expect(questions.filter(one => !['currency', 'account'].includes(one.code))).toEqual([])
  const said = { ...choice, currency: choice.currency ?? 'EUR', account: choice.account ?? '1000' }
  expect(checkBankChoice(said)).toEqual([])
  const { lines, faults } = read(said, header, rows)
  expect(faults).toEqual([])
  expect(lines.map(({ date, amount, currency }) => [date, amount, currency])).toEqual([
    ['2026-04-01', 120_411, 'EUR'],
    ['2026-04-22', -21_240, 'EUR'],
  ])
})

const [first] = statements
const header = first?.header ?? []
const rows = first?.rows ?? []
const said: BankChoice = { ...proposeBankChoice(header, rows).choice, currency: 'EUR', account: '1000' }

it('two equal payments of a day are two, and have the same ids in the next export', () => {
  const twice = [...rows, rows[1] as string[]]
  const ids = () => read(said, header, twice).lines.map(line => line.lineId)
  expect(new Set(ids()).size).toBe(3)
  expect(ids()).toEqual(ids())
})

it('reads the balance that stands beside a movement', () =>
  expect(rows.map(row => read(said, header, []).reader?.balanceOf(row))).toEqual([920_411, 899_171]))

it('leaves out what moves nothing, and names what cannot be read', () => {
  const row = (amount: string, date = '01/04/2026') => [date, 'X', amount, '', '']
  expect(read(said, header, [row(''), row('0.00')]).lines).toEqual([])
  expect(read(said, header, [row('lots')]).faults).toEqual([[2, 'Amount', 'not_a_number_so_mapped']])
  expect(read(said, header, [row('1.00', '31/31/2026')]).faults).toEqual([[2, 'Date', 'not_a_time_so_mapped']])
  expect(read(said, header, [['a']]).faults).toEqual([[2, null, 'field_count']])
  expect(read(said, header.slice(1), []).faults).toEqual([[1, 'Date', 'missing_column']])
})

it('says what it lacks', () => {
  const none: BankChoice = { ...said, columns: [], currency: null, account: null }
  expect(checkBankChoice(none).map(({ code }) => code)).toEqual(['no_time', 'no_amount', 'no_currency', 'no_account'])
})
