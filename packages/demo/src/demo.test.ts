import { addDays } from '@culvert/core'
import { describe, expect, it } from 'vitest'
import { customerText, makeCogwhistle } from './cogwhistle.ts'
import { cogwhistleOpening, cogwhistleTaxes, cogwhistleTo } from './cogwhistleSetup.ts'
import { makeKilnLane } from './kilnLane.ts'
import { opening, taxPayments } from './kilnLaneBooks.ts'
import type { Row } from './openhall.ts'

const cents = (row: Row | undefined): number => Math.round(Number(row?.amount) * 100)
const sum = (rows: readonly Row[]): number => rows.reduce((total, row) => total + cents(row), 0)
const byTime = (rows: readonly Row[]): Row[] =>
  [...rows].sort((left, right) => Date.parse(left.occurred_at as string) - Date.parse(right.occurred_at as string))

describe('Openhall', () => {
  const { standIn, loaded } = makeKilnLane()
  // The last revision of each line, as it ends.
  const lines = [...new Map(standIn.lines.map(row => [row.line_id, row])).values()]

  it('releases no reserve that it does not hold, and states what it holds', () => {
    let held = 0
    for (const line of byTime(lines).filter(row => row.kind?.startsWith('reserve'))) {
      held -= cents(line)
      expect(held).toBeGreaterThanOrEqual(0)
    }
    expect(Math.round(Number(standIn.balances.at(-1)?.reserve) * 100)).toBe(held)
  })

  it('pays out each week what the week comes to; only the late line is missing at first', () => {
    for (const { settlement_id } of standIn.settlements)
      expect(sum(lines.filter(row => row.settlement_id === settlement_id))).toBe(0)
    const known = new Set(loaded.lines.map(row => row.line_id))
    const late = lines.filter(row => !known.has(row.line_id))
    expect(late.filter(row => row.settlement_id === 'OH-2624').map(row => row.description)).toEqual(['Parcel found'])
  })
})

describe('Cogwhistle', () => {
  const { shop, shopMissing, gateway, balances, bank } = makeCogwhistle()

  it('redeems no gift card before it was sold', () => {
    const moves = byTime(shop).filter(row => row.kind === 'gift_card_sold' || row.gateway === 'Gift card')
    let left = 0
    for (const move of moves) {
      left += cents(move)
      expect(left).toBeGreaterThanOrEqual(0)
    }
    expect(moves.filter(row => row.kind === 'tender').length).toBeGreaterThan(15)
  })

  it('has a file for the day without a report: orders that foot, each with its tender', () => {
    expect(shop.some(row => row.occurred_at?.startsWith('2026-05-27'))).toBe(false)
    expect(sum(shopMissing)).toBe(0)
    const paid = gateway.filter(row => row.kind === 'collected' && row.occurred_at?.startsWith('2026-05-27'))
    const tenders = shopMissing.filter(row => row.gateway === 'Card')
    expect(tenders.map(row => [row.order_id, -cents(row)])).toEqual(paid.map(row => [row.order_id, cents(row)]))
  })

  it('sends the bounced payout again, and states a balance that its lines come to', () => {
    expect(sum(gateway.filter(row => row.kind === 'payout_returned'))).toBe(
      -cents(gateway.find(row => row.kind === 'payout' && row.occurred_at?.startsWith('2026-05-19'))),
    )
    expect(balances.at(-1)?.at).toContain(cogwhistleTo)
    expect(Math.round(Number(balances.at(-1)?.available) * 100)).toBe(sum(gateway))
    // In, out and in again.
    const returned = -cents(bank.find(row => row.description?.endsWith('RETURNED')))
    const bounced = bank.filter(row => Math.abs(cents(row)) === returned)
    expect(bounced.map(row => Math.sign(Number(row.amount)))).toEqual([1, -1, 1])
  })
})

describe('opening balances and taxes', () => {
  it('open balanced books, and pay each tax period once', () => {
    for (const lines of [opening, cogwhistleOpening])
      expect(lines.reduce((total, one) => total + one.amount, 0)).toBe(0)
    for (const payments of [taxPayments, cogwhistleTaxes])
      for (const { agency, to, amount } of payments) {
        expect(amount).toBeGreaterThan(0)
        const next = payments.find(one => one.agency === agency && one.from > to)
        if (next) expect(next.from).toBe(addDays(to, 1))
      }
  })

  it('have customers who pay by transfer, each what the shop tendered, and some who have not', () => {
    const { shop, bank } = makeCogwhistle()
    const tendered = new Map(
      shop
        .filter(row => row.kind === 'tender' && row.gateway === 'Bank transfer')
        .map(row => [row.order_id, -cents(row)]),
    )
    const paid = bank.flatMap(row => {
      const order = customerText.exec(row.description as string)?.[1]
      return order?.startsWith('F-') ? [[order, cents(row)] as const] : []
    })
    for (const [order, amount] of paid) expect(tendered.get(order), order).toBe(amount)
    expect(new Set(paid.map(([order]) => order)).size).toBe(paid.length)
    expect(paid.length).toBeGreaterThan(15)
    expect(tendered.size - paid.length).toBeGreaterThan(3)
  })
})
