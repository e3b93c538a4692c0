import { randomUUID } from 'node:crypto'
import type { Subject } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { type Actor, rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { actSorts } from '../database/schema/settlements/actSorts.ts'
import type { Facts } from './actText.ts'
import { sealLater } from './sealActs.ts'

/** What can be done that is written down. */
export type ActSort = (typeof actSorts)[number]

/** One thing that an act touches; what it was before and is after, where that says something. */
export interface Touched {
  readonly subject: Subject
  readonly key: string
  readonly before?: Facts | null
  readonly after?: Facts | null
}

interface NewAct {
  readonly sort: ActSort
  readonly note?: string
  /** Everything that it touches, by which it is found again. */
  readonly touched: readonly Touched[]
}

const kept = (facts: Facts | null | undefined): Facts | null =>
  facts ? Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== undefined)) : null

/**
 * Writes down that somebody did something, and to what, and returns the id that its documents carry. At the end of the transaction it is sealed.
 */
export const recordAct = async (
  tx: Transaction,
  actor: Actor,
  { sort, note = '', touched }: NewAct,
): Promise<string> => {
  const actId = randomUUID()
  // As the database will give them back: what is undefined is not there, and is not sealed as if it were.
  const objects = touched.map(one => ({ ...one, before: kept(one.before), after: kept(one.after) }))
  const [row] = await rowsOfPrepared(
    tx,
    { at: is.text },
    sql`WITH act AS (
      INSERT INTO act (client_id, act_id, sort, "by", note, at)
      VALUES (current_client(), ${actId}, ${sort}, ${actor.userId}, ${note}, clock_now()) RETURNING at
    ), objects AS (
      INSERT INTO act_object (client_id, act_id, no, subject, key, before, after)
      SELECT current_client(), ${actId}, o.no, o.subject, o.key, nullif(o.before, 'null'), nullif(o.after, 'null')
      FROM ROWS FROM (jsonb_to_recordset(${JSON.stringify(objects)}::jsonb) AS (subject text, key text, before jsonb, after jsonb))
        WITH ORDINALITY AS o(subject, key, before, after, no)
    )
    SELECT to_char(at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US') AS at FROM act`,
  )
  if (!row) throw new Error('an act was written and did not come back')
  sealLater(tx, actor.clientId, { actId, sort, at: row.at, by: actor.userId, note, objects })
  return actId
}
