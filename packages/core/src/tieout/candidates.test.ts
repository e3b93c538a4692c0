import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Kind } from '../activity/kinds.ts'
import { candidateFinder, proposeDecision } from './candidates.ts'
import { decisionsOn, movedByDecision } from './decisions.ts'
import { matchTenders } from './matchTenders.ts'
import { oneSided } from './oneSided.ts'
import type { TieOutLine } from './tieOutLine.ts'

const line = (lineId: string, kind: Kind, amount: number, more: Partial<TieOutLine> = {}): TieOutLine => {
  const localDate = more.localDate ?? '2026-06-04'
  return {
    source: kind.startsWith('collected') ? 'brookpay' : 'fernstall',
    lineId,
    kind,
    currency: 'CAD',
    orderId: null,
    relatedId: null,
    gateway: kind.startsWith('tender') ? 'brookpay' : null,
    amount,
    customer: null,
    instant: Date.parse(`${localDate}T12:00:00Z`),
    ...more,
    localDate,
  }
}
const labels = new Map<string, string>()
const listed = (lines: readonly TieOutLine[]) =>
  oneSided(
    { lines, matches: matchTenders(lines, { labels }), date: '2026-07-03' },
    { labels, gateways: new Set(['brookpay']) },
  ).items
const upTo = (limit: number) => (amount: number) => Math.abs(amount) <= limit

describe('what a one-sided payment may be the other side of', () => {
  it('is told by amount, name, a like order and day, the most telling first', () => {
    const items = listed([
      line('t', 'tender', -8475, { orderId: 'F-5731', customer: 'A. Marchbank' }),
      line('swapped', 'collected', 8475, { orderId: 'F-5713', customer: 'Marchbank, A', localDate: '2026-06-05' }),
      line('same day', 'collected', 5000),
      line('same name', 'collected', 8000, { customer: 'MARCHBANK A' }),
      line('late', 'collected', 8475, { localDate: '2026-07-20' }),
      line('back', 'collected_back', -8475),
    ])
    const item = items.find(one => one.line.lineId === 't')
    if (!item) throw new Error('nothing is listed')
    expect(candidateFinder(items)(item).map(one => [one.line.lineId, one.evidence, one.lag, one.difference])).toEqual([
      ['swapped', ['same_amount', 'same_name', 'like_order'], 1, 0],
      ['same name', ['same_name', 'same_day'], 0, -475],
    ])
    expect(proposeDecision(item, candidateFinder(items), upTo(0))).toMatchObject({
      as: 'attached',
      to: { lineId: 'swapped' },
    })
  })
  it('is not proposed where two would do, on either side', () => {
    const customer = { customer: 'A. Marchbank' }
    const items = listed([
      line('t1', 'tender', -8475, { ...customer, localDate: '2026-06-01' }),
      line('t2', 'tender', -8475, { ...customer, localDate: '2026-06-02' }),
      line('c', 'collected', 8475, customer),
    ])
    expect(items.map(item => proposeDecision(item, candidateFinder(items), upTo(0)))).toEqual([null, null, null])
  })
  it('never joins lines of one side, of two currencies or of two directions, and is proposed both ways or not at all', () => {
    const some = fc.record({
      kind: fc.constantFrom<Kind>('tender', 'tender_returned', 'collected', 'collected_back'),
      amount: fc.constantFrom(100, 250),
      currency: fc.constantFrom('CAD', 'USD'),
      orderId: fc.constantFrom(null, 'F-12', 'F-21', 'F-77'),
      customer: fc.constantFrom(null, 'Noor Halloway', 'T. Kestrel'),
      day: fc.integer({ min: 1, max: 20 }),
    })
    fc.assert(
      fc.property(fc.array(some, { maxLength: 12 }), rows => {
        const items = listed(
          rows.map(({ amount, day, ...row }, at) =>
            line(`L${at}`, row.kind, row.kind === 'tender' || row.kind === 'collected_back' ? -amount : amount, {
              ...row,
              localDate: `2026-06-${String(day).padStart(2, '0')}`,
            }),
          ),
        )
        for (const item of items) {
          for (const { line: other } of candidateFinder(items)(item)) {
            expect(other.source).not.toBe(item.line.source)
            expect(other.currency).toBe(item.line.currency)
            expect(Math.sign(other.amount)).toBe(-Math.sign(item.line.amount))
          }
          const proposal = proposeDecision(item, candidateFinder(items), upTo(0))
          if (proposal?.as !== 'attached') continue
          const back = items.find(one => one.line === proposal.to)
          expect(back && proposeDecision(back, candidateFinder(items), upTo(0))).toMatchObject({
            to: { lineId: item.line.lineId },
          })
        }
      }),
    )
  })
})

it('of very many only equal amounts are compared, so that a lost month costs no more than its length', () => {
  const many = listed(
    Array.from({ length: 4000 }, (_, at) =>
      at % 2 === 0
        ? line(`t${at}`, 'tender', -1000 - at, { customer: `Buyer ${at}` })
        : line(`c${at}`, 'collected', 999 + at, { customer: `Buyer ${at - 1}`, localDate: '2026-06-05' }),
    ),
  )
  const find = candidateFinder(many)
  const found = many.map(item => find(item).map(one => one.line.lineId))
  expect(found.every(ids => ids.length === 1)).toBe(true)
  expect(found[0]).toEqual(['c1'])
})

describe('what can be decided', () => {
  const of = (...lines: TieOutLine[]) => {
    const [item] = listed(lines)
    if (!item) throw new Error('nothing is listed')
    return item
  }
  const order = { orderId: 'F-1' }
  it('is bounded by what may be written off, and a price is reduced only where less came in', () => {
    const less = of(line('t', 'tender', -6400, order), line('c', 'collected', 6200, order))
    expect(decisionsOn(less, upTo(200))).toEqual(['price_reduction', 'written_off', 'waits', 'set_aside'])
    expect(decisionsOn(less, upTo(199))).toEqual(['waits', 'set_aside'])
    expect(proposeDecision(less, candidateFinder([less]), upTo(200))).toEqual({ as: 'price_reduction' })
    const more = of(line('t', 'tender', -6200, order), line('c', 'collected', 6400, order))
    expect(decisionsOn(more, upTo(200))).toEqual(['written_off', 'waits', 'set_aside'])
    expect(proposeDecision(more, candidateFinder([more]), upTo(200))).toBeNull()
  })
  it('moves the account as the line came in, or by the difference', () => {
    expect(movedByDecision(of(line('t', 'tender', -6400)))).toBe(-6400)
    expect(movedByDecision(of(line('c', 'collected', 6400)))).toBe(6400)
    expect(movedByDecision(of(line('t', 'tender', -6400, order), line('c', 'collected', 6200, order)))).toBe(-200)
  })
})

it('what is tied by hand is matched before all else, also across order ids', () => {
  const lines = [
    line('t1', 'tender', -5000, { orderId: 'F-1' }),
    line('t2', 'tender', -5000, { orderId: 'F-2' }),
    line('c', 'collected', 5000, { orderId: 'F-1' }),
  ]
  const byHand = [{ tender: { source: 'fernstall', lineId: 't2' }, collection: { source: 'brookpay', lineId: 'c' } }]
  const said = (ties: typeof byHand) =>
    matchTenders(lines, { labels, byHand: ties }).map(({ tender, by }) => [tender.lineId, by])
  expect(said(byHand)).toEqual([['t2', 'by_hand']])
  expect(said([])).toEqual([['t1', 'order']])
})
