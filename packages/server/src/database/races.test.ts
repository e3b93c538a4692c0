import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { brokenInvariants } from '../testing/invariants.ts'
import { testDatabase } from '../testing/madeClient.ts'
import { isAnswer, makeRacedClient, type Writer, type WriterPlace, writers } from '../testing/writers.ts'

// Two pools, as two processes have: nothing of the program's memory orders what they do.
const [first, second] = [testDatabase(6), testDatabase(6)]
const rounds = 2
let place: WriterPlace
beforeAll(async () => {
  place = await makeRacedClient(first, 'Raced')
})
afterAll(async () => {
  await first.$client.end()
  await second.$client.end()
  if (process.env.POSTGRES_LOG) expect(readFileSync(process.env.POSTGRES_LOG, 'utf8')).not.toMatch(/deadlock detected/)
})

let turn = 0
const race = async (left: Writer, right: Writer): Promise<void> => {
  for (let round = 0; round < rounds; round++) {
    turn++
    const outcomes = await Promise.allSettled([
      left({ ...place, database: first }, turn),
      right({ ...place, database: second }, turn + 1),
      left({ ...place, database: second }, turn + 2),
    ])
    for (const outcome of outcomes)
      if (outcome.status === 'rejected' && !isAnswer(outcome.reason)) throw outcome.reason as Error
  }
}

/** Pairs that share a lock: all but those that touch different rows altogether. */
const names = Object.keys(writers)
const pairs = names.flatMap((left, index) => names.slice(index).map(right => [left, right] as const))

describe('two who write at once', () => {
  it.each(pairs)('%s and %s leave the books whole', async (left, right) => {
    await race(writers[left] as Writer, writers[right] as Writer)
    expect(await brokenInvariants(first, place.actor)).toEqual([])
  })
})
