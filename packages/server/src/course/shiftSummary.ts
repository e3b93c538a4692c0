import { sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import type { Stage } from './stages.ts'

/** By how much what waits at a stage changes; the note, where it is a number, likewise. Amounts in minor units of base. */
export interface Shift {
  readonly stage: Stage
  readonly waiting: number
  readonly amount: number
  readonly note: number
  /** To be counted anew once it is read. */
  readonly stale?: boolean
}

/**
 * Changes what waits at the stages by a difference that the caller knows exactly, since it holds what it changes. Counting
 * anew reads everything that still waits, and posts wait for each other while that is read.
 */
export const shiftSummary = (tx: Transaction, shifts: readonly Shift[]) =>
  rowsOfPrepared(
    tx,
    {},
    sql`
    INSERT INTO client_summary (client_id, stage, waiting, amount, note, stale, marks)
    SELECT current_client(), d.stage, d.waiting, d.amount, d.note, coalesce(d.stale, false), 1
    FROM jsonb_to_recordset(${JSON.stringify(shifts)}::jsonb) AS d(stage text, waiting int, amount bigint, note text, stale boolean)
    ORDER BY d.stage
    ON CONFLICT (client_id, stage) DO UPDATE SET waiting = client_summary.waiting + excluded.waiting,
      amount = client_summary.amount + excluded.amount, marks = client_summary.marks + 1, at = now(), stale = client_summary.stale OR excluded.stale,
      note = (coalesce(nullif(client_summary.note, '')::bigint, 0) + excluded.note::bigint)::text`,
  )
