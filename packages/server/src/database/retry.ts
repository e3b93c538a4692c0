import { sqlState } from './sqlState.ts'

/** Thrown inside a transaction when what it was prepared from has changed meanwhile: prepare again. */
export class Stale extends Error {
  override readonly name = 'Stale'
}

const again = new Set(['23505', '40001', '40P01'])

const attempts = 12

/** Runs `work` again when somebody else was quicker: a key taken, a lock lost, or what it was prepared from changed. */
export const retrying = async <Result>(work: () => Promise<Result>): Promise<Result> => {
  for (let attempt = 1; ; attempt++) {
    try {
      return await work()
    } catch (error) {
      if (attempt === attempts || !(error instanceof Stale || again.has(sqlState(error) ?? ''))) throw error
      await new Promise(resolve => setTimeout(resolve, Math.random() * 20 * attempt))
    }
  }
}
