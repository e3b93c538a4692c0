import type { SettlementPage, StatementRow } from '@culvert/contract'
import { describe, expect, it } from 'vitest'
import { arrangeStatement, layBeside } from './arrangeEntry.ts'

const row = (
  kind: StatementRow['kind'],
  amount: number,
  to: number[],
  route: string | null,
  category: string | null = null,
): StatementRow => ({ kind, category, lines: 1, amount, blocked: null, to, route, taxCode: null, matched: false })
const line = (account: string, amount: number) => ({
  account,
  accountName: account,
  taxCode: '',
  segments: '',
  amount,
  baseAmount: amount,
})
const entry = (document: string, ...lines: ReturnType<typeof line>[]): SettlementPage['entries'][number] => ({
  document,
  date: '2026-03-08',
  currency: 'EUR',
  number: null,
  lines,
})

const statement = [
  row('payout', -90, [4, 5], null),
  row('selling_fee', -10, [1], '6000'),
  row('sale', 20, [2, 3], '4000', 'Books'),
  row('sale', 80, [2, 3], '4000', 'Tableware'),
]
const page = {
  entries: [
    entry('journal', line('1210', 90), line('6000', 10), line('4000', -81), line('2200', -19)),
    entry('transfer', line('1000', 90), line('1210', -90)),
  ],
}

describe('a statement', () => {
  it('runs from gross to payout, the heaviest category first, with sums under its parts', () => {
    const items = arrangeStatement(statement)
    expect(
      items.map(item =>
        item.type === 'sum' ? `${item.label} ${item.amount}` : `${item.row.kind} ${item.row.category ?? ''}`.trim(),
      ),
    ).toEqual(['sale Tableware', 'sale Books', 'Gross 100', 'selling_fee', 'payout'])
  })
  it('stands row beside row with its entry, and nothing is left out or drawn twice', () => {
    const items = arrangeStatement(statement)
    const { left, right } = layBeside(page, items)
    const drawn = right.flatMap(one => (one.type === 'line' ? [one.line.place] : []))
    expect([...drawn].sort()).toEqual([0, 1, 2, 3, 4, 5])
    expect(left.reduce((sum, one) => sum + one.rows, 0)).toBe(right.length)
    const besideSale = right[left.find(one => one.item === 0)?.top ?? -1]
    expect(besideSale?.type === 'line' && besideSale.line.body.account).toBe('4000')
    const payout = left.find(one => items[one.item ?? -1]?.type === 'row' && one.item === items.length - 1)
    expect(right[payout?.top ?? -1]).toEqual({ type: 'head', entry: 1 })
  })
  it('puts entries of several months one below the other', () => {
    const two = {
      entries: [
        entry('journal', line('4000', -5), line('1210', 5)),
        entry('journal', line('4000', -7), line('1210', 7)),
      ],
    }
    const { right } = layBeside(two, arrangeStatement([row('sale', 12, [0, 2], '4000')]))
    expect(right.map(one => (one.type === 'line' ? `${one.line.entry} ${one.line.body.account}` : one.type))).toEqual([
      '0 1210',
      '0 4000',
      'head',
      '1 1210',
      '1 4000',
    ])
  })
  it('keeps its order where a correction was booked later: the correction stands below, in the statement’s order too', () => {
    const items = arrangeStatement(
      statement.map(one => (one.kind === 'payout' ? one : { ...one, to: [...one.to, 4, 5] })),
    )
    const correction = entry('correction', line('6000', 1), line('4000', -1))
    const { left, right } = layBeside({ entries: [...page.entries.slice(0, 1), correction] }, items)
    const accounts = right.map(one => (one.type === 'line' ? one.line.body.account : one.type))
    expect(accounts.slice(0, accounts.indexOf('head'))).toEqual(['4000', 'gap', 'gap', '6000', '1210', '2200', 'gap'])
    expect(accounts.slice(accounts.indexOf('head'))).toEqual(['head', '4000', '6000'])
    expect(left.reduce((sum, one) => sum + one.rows, 0)).toBe(right.length)
  })
})
