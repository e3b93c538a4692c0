import { sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { countStale, countStaleIn } from './countStale.ts'
import { markStages } from './markStages.ts'
import { shiftSummary } from './shiftSummary.ts'
import { type Counters, type Stage, stages, together } from './stages.ts'

const database = testDatabase(12)
afterAll(() => database.$client.end())
let actor: Actor
beforeEach(async () => {
  actor = await makeClient(database, 'Counted')
  await countStale(database, actor, saying(0))
})

/** Counters that say a number, and what is to happen while they count. */
const saying = (waiting: number, meanwhile: (stage: Stage) => Promise<void> = async () => undefined): Counters => {
  const counter = (stage: Stage) => async () => {
    await meanwhile(stage)
    return { waiting, amount: 100 * waiting, note: '' }
  }
  return Object.fromEntries(stages.map(stage => [stage, counter(stage)])) as unknown as Counters
}
const mark = (...changed: Stage[]) => asClient(database, actor, tx => markStages(tx, changed))
const shown = async (stage: Stage) => {
  const [row] = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { waiting: is.whole, amount: is.minor, stale: is.yes },
      sql`SELECT waiting, amount, stale FROM client_summary WHERE client_id = current_client() AND stage = ${stage}`,
    ),
  )
  return row
}

describe('what waits', () => {
  it('is counted where it was marked, and nowhere else', async () => {
    await mark('bank', 'clearing')
    await countStale(database, actor, saying(7))
    for (const stage of stages)
      expect(await shown(stage), stage).toEqual(
        stage === 'bank' || stage === 'clearing'
          ? { waiting: 7, amount: 700, stale: false }
          : { waiting: 0, amount: 0, stale: false },
      )
  })

  it('is counted once more when it was marked again meanwhile: the count of before is not written', async () => {
    await mark('bank')
    let counted = 0
    await countStale(
      database,
      actor,
      saying(1, async () => {
        counted++
        if (counted === 1) await mark('bank')
      }),
    )
    expect(counted).toBe(2)
    expect(await shown('bank')).toMatchObject({ waiting: 1, stale: false })
  })

  it('stays marked while it is marked each time, and whoever comes next counts it', async () => {
    await mark('bank')
    let counted = 0
    const restless = saying(9, async () => {
      counted++
      await mark('bank')
    })
    await countStale(database, actor, restless)
    expect(counted).toBe(3)
    expect(await shown('bank')).toMatchObject({ waiting: 0, stale: true })
    await countStale(database, actor, saying(4))
    expect(await shown('bank')).toMatchObject({ waiting: 4, stale: false })
  })

  it('loses no shift that comes while it is counted', async () => {
    await mark('settlements')
    let counted = 0
    // The count was taken before the post that takes one away; after it there are two.
    await countStale(database, actor, {
      ...saying(0),
      settlements: async () => {
        counted++
        if (counted === 1)
          await asClient(database, actor, tx =>
            shiftSummary(tx, [{ stage: 'settlements', waiting: -1, amount: -100, note: 0 }]),
          )
        return { waiting: counted === 1 ? 3 : 2, amount: counted === 1 ? 300 : 200, note: '' }
      },
    })
    expect(counted).toBe(2)
    expect(await shown('settlements')).toMatchObject({ waiting: 2, amount: 200 })
  })

  it('is not waited for by who marks it, however long it takes to count', async () => {
    await mark('bank')
    let done: () => void = () => undefined
    const held = new Promise<void>(resolve => {
      done = resolve
    })
    const counting = countStale(
      database,
      actor,
      saying(5, () => held),
    )
    await mark('bank', 'sources')
    done()
    await counting
    expect(await shown('bank')).toMatchObject({ waiting: 5, stale: false })
  })

  it('is counted by many at once as by one', async () => {
    await mark(...stages)
    await Promise.all(Array.from({ length: 6 }, () => countStale(database, actor, saying(2))))
    for (const stage of stages) expect(await shown(stage)).toEqual({ waiting: 2, amount: 200, stale: false })
  })

  it('goes with the transaction that marked it', async () => {
    const broken = asClient(database, actor, async tx => {
      await markStages(tx, ['books'])
      await countStaleIn(tx, saying(8))
      throw new Error('undone')
    })
    await expect(broken).rejects.toThrow('undone')
    expect(await shown('books')).toEqual({ waiting: 0, amount: 0, stale: false })
  })

  it('is added up in base, with what each currency’s note counts', () => {
    const inBase = { convert: (amount: number, currency: string) => (currency === 'EUR' ? amount : amount * 2) }
    const rows = [
      { currency: 'EUR', waiting: 1, amount: 500, note: 1 },
      { currency: 'USD', waiting: 2, amount: 300, note: 0 },
    ]
    expect(together(rows, inBase)).toEqual({ waiting: 3, amount: 1100, note: '1' })
    expect(together([], inBase)).toEqual({ waiting: 0, amount: 0, note: '0' })
  })
})
