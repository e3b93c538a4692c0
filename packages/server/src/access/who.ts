import type { Right } from '@culvert/contract'
import type { Request, Response } from 'express'

/** Who asks: a person, signed in or by a token of theirs. */
export interface Signed {
  readonly userId: number
  /** Of whoever signed in with a browser. */
  readonly session: string | null
  /** What a token narrows: its rights, and its clients (null: all of the person's). Null: nothing. */
  readonly narrowed: { readonly rights: ReadonlySet<Right>; readonly clients: ReadonlySet<number> | null } | null
}

/** Finds out who asks; null: nobody who is known. It may renew what the browser keeps of the session. */
export type Who = (request: Request, response: Response) => Promise<Signed | null>

/** One person, whoever asks: for tests and benchmarks of what comes after signing in. */
export const always =
  (userId: number): Who =>
  () =>
    Promise.resolve({ userId, session: null, narrowed: null })
