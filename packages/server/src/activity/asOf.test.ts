import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { csvOf, makeClient, makeClientWithWeeks, type Row, testDatabase, upload } from '../testing/madeClient.ts'
import { postedAs } from './postedAs.ts'
import { revisionAsOf } from './storedLines.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const told = fc.record({
  line_id: fc.constantFrom('a', 'b', 'c', 'd'),
  kind: fc.constantFrom('sale', 'shipping', 'selling_fee'),
  amount: fc.constantFrom('1.00', '2.00', '3.00'),
  status: fc.constantFrom('available', 'pending', 'failed'),
})

const lastPull = (actor: Actor) =>
  asClient(database, actor, async tx => {
    const { pull } = await oneRow(
      tx,
      { pull: is.whole },
      sql`SELECT last_pull AS pull FROM source WHERE client_id = current_client() AND source = 'openhall'`,
    )
    return pull
  })
const standing = (actor: Actor, asOf: 'now' | number) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { line: is.text, kind: is.kind, amount: is.minor, status: is.text },
      sql`SELECT l.line_id AS line, l.kind, l.amount, l.status FROM line_as_of l
        WHERE l.client_id = current_client() AND ${revisionAsOf(asOf)} ORDER BY l.line_id`,
    ),
  )

describe('a line as of a pull', () => {
  it('is what had been told by then, of every pull, however often it was told anew', async () => {
    let tried = 0
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(told, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 5 }),
        async files => {
          const actor = await makeClient(database, `As of ${tried++}`)
          const known = new Map<string, (typeof files)[number][number]>()
          const after = new Map<number, object[]>([[0, []]])
          for (const file of files) {
            const once = [...new Map(file.map(line => [line.line_id, line])).values()]
            const rows = once.map((line): Row => ({ ...line, occurred_at: '2026-01-06T10:00:00Z', currency: 'EUR' }))
            await upload(database, actor, csvOf(rows))
            for (const line of once) known.set(line.line_id, line)
            after.set(
              await lastPull(actor),
              [...known.values()]
                .map(({ line_id: line, kind, amount, status }) => ({
                  line,
                  kind,
                  amount: Number(amount) * 100,
                  status,
                }))
                .sort((left, right) => (left.line < right.line ? -1 : 1)),
            )
          }
          for (const [pull, lines] of after) expect(await standing(actor, pull), `as of ${pull}`).toEqual(lines)
          expect(await standing(actor, 'now')).toEqual(after.get(await lastPull(actor)))
          // What has not been told yet is not known to any pull before it.
          expect(await standing(actor, 1_000_000)).toEqual(await standing(actor, 'now'))
        },
      ),
      { numRuns: 15 },
    )
  })
})

describe('a settlement as it is in the books', () => {
  it('is as of its posting, then of each correction, and of nothing once it is taken back', async () => {
    const { actor, keys, weeks } = await makeClientWithWeeks(database, 'In the books', 1, 3)
    const [key] = keys
    if (!key) throw new Error('no settlement')
    const posted = (generation?: number) => asClient(database, actor, tx => postedAs(tx, key, generation))
    expect(await posted()).toBeNull()
    await postSettlements(database, actor, [key])
    const first = await lastPull(actor)
    expect(await posted()).toMatchObject({ pullNo: first })
    const [one, other] = weeks.lines.filter(line => line.kind !== 'payout')
    const moved = (line: Row | undefined, by: number): Row => ({
      ...line,
      amount: (Number(line?.amount) + by).toFixed(2),
    })
    await upload(database, actor, csvOf([moved(one, 1), moved(other, -1)]))
    // Told anew, and not in the books yet.
    expect(await lastPull(actor)).toBe(first + 1)
    expect(await posted()).toMatchObject({ pullNo: first })
    expect(await bookCorrection(database, actor, key)).toMatchObject({ ok: true })
    expect(await posted()).toMatchObject({ pullNo: first + 1 })
    await takeBack(database, actor, [key])
    expect(await posted()).toBeNull()
    expect(await posted(1)).toMatchObject({ pullNo: first + 1 })
    await postSettlements(database, actor, [key])
    expect(await posted()).toMatchObject({ pullNo: await lastPull(actor) })
    expect(await posted(2)).toEqual(await posted())
    expect(await posted(3)).toBeNull()
  })
})
