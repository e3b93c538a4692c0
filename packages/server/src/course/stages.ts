import { sumMinor } from '@culvert/core'
import type { Transaction } from '../database/connect.ts'

export const stages = ['sources', 'mapping', 'settlements', 'payments', 'clearing', 'bank', 'books', 'close'] as const
export type Stage = (typeof stages)[number]

/** What waits at a stage. */
export interface Waiting {
  readonly waiting: number
  /** Minor units of the client's base currency. */
  readonly amount: number
  readonly note: string
}

/** What waits at a stage in one currency; minor units of it. */
export interface WaitingIn {
  readonly currency: string
  readonly waiting: number
  readonly amount: number
  readonly note: number
}

/** Reads in one transaction, or in one that is open already. */
export type Look = <Seen>(read: (tx: Transaction) => Promise<Seen>) => Promise<Seen>

/** Each stage counts for itself; the course is given the eight, and knows none of them. What takes long is worked out beside every transaction. */
export type Counters = Record<Stage, (look: Look) => Promise<Waiting>>

/** The counter of a stage that needs nothing but the database. */
export const reading =
  (count: (tx: Transaction) => Promise<Waiting>) =>
  (look: Look): Promise<Waiting> =>
    look(count)

/** Adds up what waits in each currency; `convert` brings minor units of a currency into base. */
export const together = (
  rows: readonly WaitingIn[],
  { convert }: { convert(amount: number, currency: string): number },
): Waiting => ({
  waiting: rows.reduce((sum, row) => sum + row.waiting, 0),
  amount: sumMinor(rows, row => convert(row.amount, row.currency)),
  note: String(rows.reduce((sum, row) => sum + row.note, 0)),
})
