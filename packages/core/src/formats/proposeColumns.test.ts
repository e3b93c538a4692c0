import { expect, test } from 'vitest'
import { measuredHeads } from './heads/measuredHeads.ts'
import { proposeColumns } from './proposeColumns.ts'

const judged = measuredHeads.map(head => {
  const proposals = proposeColumns(head.of, head.header, head.rows)
  return head.header.map((name, at) => ({
    head: head.name,
    name,
    right: head.right[at] ?? null,
    meaning: proposals[at]?.meaning ?? null,
    sure: proposals[at]?.sure ?? false,
  }))
})

test('nine of ten columns of heads in six languages are proposed right, and none is silently wrong', () => {
  const columns = judged.flat()
  const wrong = columns.filter(one => one.meaning !== one.right && (one.right ?? one.meaning) !== 'value_date')
  const named = wrong.map(
    one => `${one.head}: ${one.name} is ${one.right}, not ${one.meaning}${one.sure ? ' for sure' : ''}`,
  )
  expect(measuredHeads.length).toBeGreaterThanOrEqual(20)
  expect(named.filter(text => text.endsWith('for sure'))).toEqual([])
  expect(1 - wrong.length / columns.length, named.join('\n')).toBeGreaterThanOrEqual(0.9)
})

test('most are sure: a question for every column would be no proposal', () => {
  const told = judged.flat().filter(one => one.right !== null)
  expect(told.filter(one => one.sure).length / told.length).toBeGreaterThanOrEqual(0.7)
})

test('what stands in a column decides against its name', () => {
  const of = (value: string) => proposeColumns('activity', ['Date', 'Amount'], [[value, '1.00']])[0]?.meaning
  expect(of('2026-03-01')).toBe('occurred_at')
  expect(of('yesterday')).toBeNull()
})

test('two columns of one name are asked about', () => {
  const [first, second] = proposeColumns('bank', ['Date', 'Amount', 'Amount'], [['2026-03-01', '1.00', '2.00']]).slice(
    1,
  )
  expect(first?.sure).toBe(false)
  expect(second?.sure).toBe(false)
})

test('a file that says nothing gets nothing proposed, and an empty one too', () => {
  expect(proposeColumns('activity', ['A', 'B'], [['1', '2']]).map(one => one.meaning)).toEqual([null, null])
  expect(proposeColumns('bank', [], [])).toEqual([])
})

test('one odd value does not make another of a column: it is proposed, and asked about', () => {
  const rows = [
    ['2026-03-01', 'Sale', '64.50', '-1.87', '62.63'],
    ['2026-03-02', 'Sale', 'twelve', '-0.30', '11.70'],
    ['2026-03-03', 'Sale', '10.00', '-0.30', '9.70'],
  ]
  const proposed = proposeColumns('activity', ['Date', 'Type', 'Gross', 'Fee', 'Net'], rows).slice(2)
  expect(proposed.map(one => [one.meaning, one.sure])).toEqual([
    ['gross', false],
    ['fee', true],
    ['net', true],
  ])
})

test('what no name says is found by what stands in it, where one column alone holds it, and is asked about', () => {
  const rows = [
    ['2026-04-01', 'Plan paid', 'Sale', '42.50'],
    ['2026-04-02', 'Mug', 'Refund', '-9.00'],
  ]
  const of = (header: string[], of: readonly string[][] = rows) => proposeColumns('activity', header, of)
  expect(of(['Wann', 'Notiz', 'Xyz', 'Amount'])).toMatchObject([
    { meaning: 'occurred_at', sure: false },
    { meaning: null },
    { meaning: 'kind', sure: false },
    { meaning: 'amount' },
  ])
  // Of two in which days stand neither is taken, and numbers are no days.
  const twice = rows.map(([day, ...rest]) => [day ?? '', day ?? '', ...rest.slice(1)])
  expect(of(['Wann', 'Wo', 'Xyz', 'Amount'], twice).map(one => one.meaning)).toEqual([null, null, 'kind', 'amount'])
  expect(of(['Wann', 'Amount'], [['20260401', '1.00']])[0]?.meaning).toBeNull()
})
