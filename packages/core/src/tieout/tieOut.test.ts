import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Kind } from '../activity/kinds.ts'
import { awaitedChannels } from './awaitsChannel.ts'
import { matchTenders } from './matchTenders.ts'
import { oneSided } from './oneSided.ts'
import type { TieOutLine } from './tieOutLine.ts'

const line = (lineId: string, kind: Kind, amount: number, more: Partial<TieOutLine> = {}): TieOutLine => {
  const localDate = more.localDate ?? '2026-03-02'
  return {
    source: kind.startsWith('collected') ? 'brookpay' : 'fernstall',
    lineId,
    kind,
    currency: 'EUR',
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
const labels = new Map([['Card', 'brookpay']])
const ids = (lines: readonly TieOutLine[]) =>
  matchTenders(lines, { labels }).map(({ tender, collection, by, difference }) =>
    [tender.lineId, collection.lineId, by, difference].join(' '),
  )

describe('what is the same money', () => {
  it('is found by the order, equal amounts first, the rest in order of time', () => {
    const order = { orderId: 'F-1' }
    expect(
      ids([
        line('t1', 'tender', -5000, order),
        line('t2', 'tender', -2000, order),
        line('c1', 'collected', 2000, order),
        line('c2', 'collected', 4900, { ...order, localDate: '2026-03-01' }),
      ]),
    ).toEqual(['t2 c1 order 0', 't1 c2 order -100'])
  })
  it('else by a reference to the tender or its order, else by amount, day and name', () => {
    expect(
      ids([
        line('t1', 'tender', -5000, { orderId: 'F-1' }),
        line('t2', 'tender', -2000, { orderId: 'F-2', customer: 'Quill, Orla' }),
        line('t3', 'tender', -700, { orderId: 'F-3' }),
        line('c1', 'collected', 5000, { orderId: 'P-81', relatedId: 't1' }),
        line('c2', 'collected', 2000, { orderId: 'P-82', customer: 'ORLA QUILL' }),
        line('c3', 'collected', 700, { relatedId: 'F-3' }),
      ]),
    ).toEqual(['t1 c1 reference 0', 't3 c3 reference 0', 't2 c2 amount_day_name 0'])
  })
  it('is not the same amount of another person, another day, another gateway or another direction', () => {
    const customer = { customer: 'Orla Quill' }
    expect(
      ids([
        line('t1', 'tender', -2000, customer),
        line('c1', 'collected', 2000, { customer: 'Ben Aster' }),
        line('c2', 'collected', 2000, { ...customer, localDate: '2026-03-03' }),
        line('c3', 'collected', 2000, { ...customer, source: 'oddpurse' }),
        line('c4', 'collected_back', -2000, customer),
        line('c5', 'collected', 2000),
      ]),
    ).toEqual([])
  })
  it('is found behind a label that stands for the gateway', () => {
    const order = { orderId: 'F-9' }
    const lines = [line('t1', 'tender', -100, { ...order, gateway: 'Card' }), line('c1', 'collected', 100, order)]
    expect(ids(lines)).toEqual(['t1 c1 order 0'])
    expect(matchTenders(lines, { labels: new Map() })).toEqual([])
  })
  it('is one to one, whatever the order of the lines', () => {
    const some = fc.record({
      kind: fc.constantFrom<Kind>('tender', 'collected', 'tender_returned', 'collected_back'),
      amount: fc.constantFrom(-2000, -100, 100, 2000),
      orderId: fc.constantFrom(null, 'A', 'B'),
      relatedId: fc.constantFrom(null, 'A', 'L1'),
      customer: fc.constantFrom(null, 'Orla Quill', 'Ben Aster'),
    })
    fc.assert(
      fc.property(fc.array(some, { maxLength: 14 }), fc.nat(), (rows, turn) => {
        const lines = rows.map((row, index) => line(`L${index}`, row.kind, row.amount, row))
        const matches = matchTenders(lines, { labels })
        const used = matches.flatMap(match => [match.tender.lineId, match.collection.lineId])
        expect(new Set(used).size).toBe(used.length)
        const turned = [...lines.slice(turn % lines.length), ...lines.slice(0, turn % lines.length)]
        expect(new Set(ids(turned))).toEqual(new Set(ids(lines)))
      }),
    )
  })
})

describe('what is on one side only', () => {
  const lists = (lines: readonly TieOutLine[], date = '2026-03-31') =>
    oneSided(
      { lines, matches: matchTenders(lines, { labels }), date },
      { labels, gateways: new Set(['brookpay', 'oddpurse']) },
    )
  it('is listed by sort, with its money as the gateway signs it', () => {
    const { items } = lists([
      line('t1', 'tender', -5000, { orderId: 'F-1' }),
      line('t2', 'tender_returned', 800, { orderId: 'F-1' }),
      line('c1', 'collected', 300),
      line('c2', 'collected_back', -40, { localDate: '2026-03-03' }),
      line('t3', 'tender', -1000, { orderId: 'F-4', localDate: '2026-03-04' }),
      line('c3', 'collected', 990, { orderId: 'F-4', localDate: '2026-03-05' }),
    ])
    expect(items.map(item => [item.sort, item.line.lineId, item.amount])).toEqual([
      ['collected_without_order', 'c1', 300],
      ['tender_not_collected', 't1', 5000],
      ['refund_not_paid', 't2', -800],
      ['refund_without_order', 'c2', -40],
      ['amount_differs', 'c3', -10],
    ])
  })
  it('waits two days before it is listed', () => {
    const lines = [line('t1', 'tender', -5000, { localDate: '2026-03-02' })]
    expect(lists(lines, '2026-03-04').items).toHaveLength(0)
    expect(lists(lines, '2026-03-05').items).toHaveLength(1)
  })
  it('tells labels that no source stands behind, with their money', () => {
    const { items, labels: unknown } = lists([
      line('t1', 'tender', -5000, { gateway: 'Cheque' }),
      line('t2', 'tender', -200, { gateway: 'Cheque' }),
      line('t3', 'tender_returned', 100, { gateway: 'Cheque' }),
      line('t4', 'tender', -100, { gateway: null }),
    ])
    expect(items).toEqual([])
    expect(unknown).toEqual([{ label: 'Cheque', currency: 'EUR', count: 3, amount: 5100 }])
  })
})

it('a gateway waits for channels not pulled two days past its last collection', () => {
  const channels = [
    { source: 'fernstall', pulledTo: '2026-03-04' },
    { source: 'tillstone', pulledTo: '2026-03-03' },
    { source: 'new', pulledTo: null },
  ]
  expect(awaitedChannels('2026-03-02', channels).map(channel => channel.source)).toEqual(['tillstone', 'new'])
  expect(awaitedChannels(null, channels)).toEqual([])
})
