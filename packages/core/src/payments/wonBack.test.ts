import { describe, expect, it } from 'vitest'
import { type DisputeMove, wonBack } from './wonBack.ts'

const move = (
  lineId: string,
  amount: number,
  orderId: string | null = 'A',
  relatedId: string | null = null,
): DisputeMove => ({
  lineId,
  amount,
  orderId,
  relatedId,
})
const told = (chargebacks: readonly DisputeMove[], reversals: readonly DisputeMove[]) =>
  Object.fromEntries(wonBack(chargebacks, reversals))

describe('what came back of chargebacks', () => {
  it('is counted once, where an order has two', () => {
    expect(told([move('1', -5000), move('2', -7000)], [move('r', 7000)])).toEqual({ 1: 5000, 2: 2000 })
  })

  it('goes to the one that a reversal names, whatever its order', () => {
    expect(told([move('1', -5000), move('2', -7000)], [move('r', 7000, 'A', '2')])).toEqual({ 1: 0, 2: 7000 })
  })

  it('goes by the order where the line that is named is none of them', () => {
    expect(told([move('1', -5000)], [move('r', 5000, 'A', 'gone')])).toEqual({ 1: 5000 })
    expect(told([move('1', -5000)], [move('r', 5000, 'B')])).toEqual({ 1: 0 })
    expect(told([move('1', -5000, null)], [move('r', 5000, null)])).toEqual({ 1: 0 })
  })
})
