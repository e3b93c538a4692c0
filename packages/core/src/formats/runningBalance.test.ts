import fc from 'fast-check'
import { expect, it } from 'vitest'
import { RunningBalance } from './runningBalance.ts'

const amounts = fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 1, maxLength: 30 })

it('finds both balances whichever way the rows run', () =>
  fc.assert(
    fc.property(fc.integer({ min: -10_000, max: 10_000 }), amounts, fc.boolean(), (opening, moved, latestFirst) => {
      let balance = opening
      const rows = moved.map(amount => {
        balance += amount
        return [amount, balance] as const
      })
      const running = new RunningBalance()
      for (const [amount, after] of latestFirst ? rows.reverse() : rows) running.add(amount, after)
      const stated = running.stated()
      expect(stated && stated.closing - stated.opening).toBe(balance - opening)
    }),
  ))

it('says nothing where a movement is missing, or a balance', () => {
  const missing = new RunningBalance()
  for (const [amount, balance] of [
    [5, 12],
    [1, 20],
    [2, 22],
  ] as const)
    missing.add(amount, balance)
  expect(missing.stated()).toBeNull()
  const silent = new RunningBalance()
  silent.add(5, 12)
  silent.add(1, null)
  expect(silent.stated()).toBeNull()
  expect(new RunningBalance().stated()).toBeNull()
})
