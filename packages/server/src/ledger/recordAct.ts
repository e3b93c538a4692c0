import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { type Actor, rowsOfPrepared, type Transaction } from '../database/connect.ts'
import type { actSorts } from '../database/schema/settlements/actSorts.ts'

/** What can be done that is written down. */
export type ActSort = (typeof actSorts)[number]

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
