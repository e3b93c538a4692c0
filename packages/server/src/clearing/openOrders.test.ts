import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient } from '../database/connect.ts'
import { addShop, csvOf, makeClient, type Row, testDatabase, upload } from '../testing/madeClient.ts'
import { loadProofPage } from './loadClearing.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const days = ['2026-03-02', '2026-03-03', '2026-03-05', '2026-03-09']

/** A line of the shop, as its activity file has it; cents without a sign. */
interface Told {
  readonly line_id: string
  readonly order_id: string
  readonly day: string
  readonly kind: string
  readonly cents: number
  readonly status: string
}
const told: fc.Arbitrary<Told> = fc.record({
  line_id: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'),
  order_id: fc.constantFrom('', 'F-1', 'F-2', 'F-3'),
  day: fc.constantFrom(...days),
  kind: fc.constantFrom('sale', 'sale', 'tender', 'tender', 'stock_received'),
  cents: fc.constantFrom(1000, 2460, 0),
  status: fc.constantFrom('available', 'available', 'available', 'pending', 'failed'),
})

const rowOf = ({ day, cents, ...line }: Told): Row => ({
  ...line,
  occurred_at: `${day}T10:00:00Z`,
  currency: 'EUR',
  amount: ((line.kind === 'tender' ? -cents : cents) / 100).toFixed(2),
  ...(line.kind === 'tender' && { gateway: 'brookpay' }),
})

/** What is open at a date, worked out from the lines as they stand and nothing else: by order, a line without one by itself. */
const openAt = (lines: ReadonlyMap<string, Told>, date: string): [string, number][] => {
  const sums = new Map<string, number>()
  for (const line of lines.values()) {
    if (line.status !== 'available' || line.kind === 'stock_received' || line.day > date) continue
    const name = line.order_id === '' ? line.line_id : line.order_id
    const of = `${line.order_id === '' ? 'line' : 'order'} ${name}`
    sums.set(of, (sums.get(of) ?? 0) + (line.kind === 'tender' ? -line.cents : line.cents))
  }
  return [...sums].filter(([, sum]) => sum !== 0).sort(([left], [right]) => (left < right ? -1 : 1))
}

const shownAt = async (actor: Actor, date: string) => {
  const page = await asClient(database, actor, tx => loadProofPage(tx, '1220', { date, currency: null }))
  if (!page) throw new Error('no page')
  const { total, orders } = page.openOrders
  expect(total).toBe(orders.length)
  const named = orders.map(({ ref, amount }): [string, number] => [
    ref?.of === 'order' ? `order ${ref.order}` : `line ${ref?.of === 'line' ? ref.lineId : ''}`,
    amount,
  ])
  return {
    open: named.sort(([left], [right]) => (left < right ? -1 : 1)),
    reported: page.reported,
    outcome: page.outcome,
  }
}

describe('orders that a channel’s account leaves open', () => {
  it('are those of the lines up to the date, whatever came after it and however often it was told anew', async () => {
    let tried = 0
    let seen = 0
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(told, { maxLength: 7 }), { minLength: 1, maxLength: 4 }), async files => {
        const actor = await makeClient(database, `Open ${tried++}`)
        await addShop(database, actor)
        const lines = new Map<string, Told>()
        for (const file of files) {
          const once = new Map(file.map(line => [line.line_id, line]))
          if (once.size === 0) continue
          await upload(database, actor, csvOf([...once.values()].map(rowOf)), 'activity.csv', 'fernstall')
          for (const line of once.values()) lines.set(line.line_id, line)
        }
        for (const date of [...days, '2026-03-01', '2026-04-01']) {
          const expected = openAt(lines, date)
          const { open, reported } = await shownAt(actor, date)
          expect(open, date).toEqual(expected)
          expect(reported, date).toBe(expected.reduce((sum, [, amount]) => sum + amount, 0))
          seen += expected.length
        }
      }),
      { numRuns: 20 },
    )
    expect(seen).toBeGreaterThan(50)
  })

  it('that are kept as open and are not any more are shown no more, and come back when they are', async () => {
    const actor = await makeClient(database, 'Open and shut')
    await addShop(database, actor)
    const line = (id: string, kind: string, day: string, cents: number, order = 'F-1'): Told => ({
      line_id: id,
      order_id: order,
      day,
      kind,
      cents,
      status: 'available',
    })
    const tell = (...lines: Told[]) => upload(database, actor, csvOf(lines.map(rowOf)), 'activity.csv', 'fernstall')
    await tell(line('s', 'sale', '2026-03-02', 2460))
    expect((await shownAt(actor, '2026-03-05')).open).toEqual([['order F-1', 2460]])
    await tell(line('t', 'tender', '2026-03-05', 2460))
    expect((await shownAt(actor, '2026-03-05')).open).toEqual([])
    // Before it was paid it was open, and a proof of that day says so.
    expect((await shownAt(actor, '2026-03-03')).open).toEqual([['order F-1', 2460]])
    await tell(line('t', 'tender', '2026-03-05', 1000))
    expect((await shownAt(actor, '2026-03-09')).open).toEqual([['order F-1', 1460]])
    // Told to be of another order, it leaves the first open whole.
    await tell(line('t', 'tender', '2026-03-05', 1000, 'F-2'))
    expect((await shownAt(actor, '2026-03-09')).open).toEqual([
      ['order F-1', 2460],
      ['order F-2', -1000],
    ])
  })
})
