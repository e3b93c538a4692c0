import { describe, expect, it } from 'vitest'
import { Unread } from '../database/rows.ts'
import { storedBlock } from './storedBlock.ts'

describe('a block that is kept with its settlement', () => {
  it('is read as it is kept now', () => {
    const block = {
      reason: 'unmapped',
      amount: -2460,
      concerned: [{ kind: 'sale', category: 'Glaze kits', amount: -2460, count: 2, route: 7 }],
    }
    expect(storedBlock({ ...block })).toEqual(block)
    const waits = { ...block, concerned: [], awaits: [{ source: 'fernstall', pulledTo: '2026-03-02' }] }
    expect(storedBlock({ ...waits })).toEqual(waits)
    const double = { ...block, reason: 'likely_double', concerned: [], entry: '2026-12' }
    expect(storedBlock({ ...double })).toEqual(double)
  })
  it('is read as it was kept first, when it named neither routes nor counts, or nothing that it concerns', () => {
    expect(
      storedBlock({
        reason: 'tax_code_missing',
        amount: 100,
        concerned: [{ kind: 'shipping', category: null, amount: 100 }],
      }),
    ).toEqual({
      reason: 'tax_code_missing',
      amount: 100,
      concerned: [{ kind: 'shipping', category: null, amount: 100, count: 0, route: null }],
    })
    expect(storedBlock({ reason: 'does_not_foot', amount: 1 })).toEqual({
      reason: 'does_not_foot',
      amount: 1,
      concerned: [],
    })
  })
  it('is not guessed at', () => {
    for (const block of [
      {},
      { reason: 'unmapped' },
      { reason: 'unmapped', amount: '1' },
      { reason: 'unmapped', amount: 1, concerned: [{ kind: 'gift', category: null, amount: 1 }] },
      { reason: 'unmapped', amount: 1, concerned: [{ kind: 'sale', category: 5, amount: 1 }] },
      { reason: 'unmapped', amount: 1, awaits: [{ source: 'fernstall' }] },
    ])
      expect(() => storedBlock(block), JSON.stringify(block)).toThrow(Unread)
  })
})
