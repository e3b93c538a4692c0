import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { findLeads, type Movement } from './findLeads.ts'

const movement = (name: string, amount: number, date = '2026-03-10'): Movement => ({ name, amount, date })
const brief = (amount: number, movements: readonly Movement[]) =>
  findLeads(amount, movements).map(lead => `${lead.sort} ${lead.movements.map(one => one.name).join('+')}`)

describe('a lead', () => {
  const usual = [
    movement('week 1', 81_370),
    movement('week 2', 64_220, '2026-03-17'),
    movement('payout 1', -81_370, '2026-03-12'),
  ]
  it('is one movement of exactly the amount, either way round', () => {
    expect(brief(64_220, usual)[0]).toBe('single week 2')
    expect(brief(-64_220, usual)[0]).toBe('single week 2')
  })
  it('is a wrong sign, where the amount is twice a movement’s', () =>
    expect(brief(128_440, usual)).toEqual(['sign week 2']))
  it('is a double of the same amount nearby, not one of a year ago or of the other sign', () => {
    const twice = [...usual, movement('again', 64_220, '2026-03-20'), movement('old', 64_220, '2025-03-20')]
    expect(brief(64_220, twice)[0]).toBe('double again+week 2')
    expect(brief(81_370, usual).filter(text => text.startsWith('double'))).toEqual([])
  })
  it('is no double of what the books and the source both tell', () => {
    const both = [
      { ...movement('entry', 3190), by: 'books' },
      { ...movement('line', 3190), by: 'source' },
    ]
    expect(brief(3190, both)).toEqual(['single entry', 'single line'])
    expect(brief(6380, both)).toEqual(['sign entry', 'sign line'])
  })
  it('is no double of a movement about another order', () => {
    const fee = (name: string, about: string) => ({ ...movement(name, -590), about })
    expect(brief(590, [fee('a', '1'), fee('b', '2'), fee('c', '2')])[0]).toBe('double b+c')
  })
  it('is two digits changed over, and says what was meant', () => {
    // 642.20 written as 624.20: 18.00 too little.
    const [lead] = findLeads(1800, [movement('hand', 62_420)])
    expect(lead).toMatchObject({ sort: 'swapped_digits', meant: 64_220 })
    expect(findLeads(-1800, [movement('paid', -62_420)])[0]).toMatchObject({ meant: -64_220 })
  })
  it('is two movements that come to the amount together', () =>
    expect(brief(81_370 + 64_220, usual)).toContain('pair week 1+week 2'))
  it('is none for nothing, nor for an amount that nothing has to do with', () => {
    expect(findLeads(0, usual)).toEqual([])
    expect(findLeads(7, usual)).toEqual([])
  })
})

it('names a planted error among the first three leads', () => {
  const amounts = fc.uniqueArray(fc.integer({ min: 1000, max: 900_000 }), { minLength: 3, maxLength: 30 })
  fc.assert(
    fc.property(amounts, fc.nat(), fc.constantFrom('double', 'missing', 'sign'), (made, which, sort) => {
      const movements = made.map((amount, index) =>
        movement(`m${index}`, amount, `2026-03-${String(1 + (index % 28)).padStart(2, '0')}`),
      )
      const culprit = movements[which % movements.length] as Movement
      const ledger = sort === 'double' ? [...movements, { ...culprit, name: 'double' }] : movements
      const unexplained = sort === 'sign' ? 2 * culprit.amount : culprit.amount
      const first = findLeads(unexplained, ledger).slice(0, 3)
      expect(first.some(lead => lead.movements.some(one => one.name === culprit.name || one.name === 'double'))).toBe(
        true,
      )
    }),
    { numRuns: 500 },
  )
})
