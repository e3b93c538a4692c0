import type { Database } from '../database/connect.ts'
import { isAnswer, type Writer, type WriterPlace, writers } from '../testing/writers.ts'

export type RacePlace = Omit<WriterPlace, 'database'>

/** All pairs of writers, each with itself too. */
export const racedPairs = (): (readonly [string, string])[] => {
  const names = Object.keys(writers)
  return names.flatMap((left, index) => names.slice(index).map(right => [left, right] as const))
}

/**
 * One side of some pairs, so many rounds of each; another process runs the other side meanwhile. Two of the same side run at once too. Whatever is not
 * an answer to the asker (a conflict, a refusal) is a fault, and is told.
 */
export const runSide = async (
  database: Database,
  {
    place,
    pairs,
    side,
    rounds,
  }: { place: RacePlace; pairs: readonly (readonly [string, string])[]; side: 0 | 1; rounds: number },
): Promise<{ writes: number; faults: string[] }> => {
  const faults: string[] = []
  let writes = 0
  for (const pair of pairs)
    for (let round = 0; round < rounds; round++) {
      const turn = writes + 1000 * side
      const write = writers[pair[side]] as Writer
      const outcomes = await Promise.allSettled([
        write({ ...place, database }, turn),
        write({ ...place, database }, turn + 1),
      ])
      writes += 2
      for (const outcome of outcomes)
        if (outcome.status === 'rejected' && !isAnswer(outcome.reason))
          faults.push(`${pair.join(' and ')}: ${outcome.reason}`)
    }
  return { writes, faults }
}
