import { expect, it } from 'vitest'
import { freeCode } from './freeCode.ts'

it('a new account is offered the next code of its type that nobody has', () => {
  const accounts = [
    { code: '4000', type: 'income' },
    { code: '4300', type: 'income' },
    { code: '4310', type: 'expense' },
    { code: 'SALES', type: 'income' },
  ]
  expect(freeCode(accounts, 'income')).toBe('4311')
  expect(freeCode(accounts, 'expense')).toBe('4320')
  expect(freeCode([], 'income')).toBe('9000')
  expect(freeCode([{ code: '1000', type: 'bank' }], 'clearing')).toBe('1010')
})
