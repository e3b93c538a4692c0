import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { type Actor, rowsOfPrepared, type Transaction } from '../database/connect.ts'

export type ActSort =
  | 'post'
  | 'take_back'
  | 'set_aside'
  | 'no_double'
  | 'take_up'
  | 'book_correction'
  | 'confirm_pairings'
  | 'undo_pairing'
  | 'code_line'
  | 'set_aside_bank'
  | 'grant_bank'
  | 'save_wording'
  | 'state_balance'
  | 'save_routes'
  | 'save_rules'
  | 'save_items'
  | 'save_tax_codes'
  | 'save_tax_rows'
  | 'save_rates'
  | 'save_labels'
  | 'save_options'
  | 'decide_dispute'
  | 'undo_dispute'
  | 'file_tax'
  | 'withdraw_tax_filing'
  | 'post_opening'
  | 'undo_opening'
  | 'lock_period'
  | 'unlock_period'

/** Writes down that somebody did something, and returns the id that its documents carry. */
export const recordAct = async (
  tx: Transaction,
  actor: Actor,
  act: { sort: ActSort; note?: string },
): Promise<string> => {
  const actId = randomUUID()
  await rowsOfPrepared(
    tx,
    {},
    sql`INSERT INTO act (client_id, act_id, sort, "by", note, at)
    VALUES (current_client(), ${actId}, ${act.sort}, ${actor.userId}, ${act.note ?? ''}, clock_now())`,
  )
  return actId
}
