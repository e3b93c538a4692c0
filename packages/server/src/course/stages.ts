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

/** Each stage counts for itself; the course is given the eight, and knows none of them. */
export type Counters = Record<Stage, (tx: Transaction) => Promise<Waiting>>

/** Adds up what waits in each currency; `convert` brings minor units of a currency into base. */
export const together = (
  rows: readonly WaitingIn[],
  { convert }: { convert(amount: number, currency: string): number },
): Waiting => ({
  waiting: rows.reduce((sum, row) => sum + row.waiting, 0),
  amount: sumMinor(rows, row => convert(row.amount, row.currency)),
  note: String(rows.reduce((sum, row) => sum + row.note, 0)),
})
