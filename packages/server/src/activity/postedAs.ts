import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { SettlementKey } from './settlementKey.ts'

/** How a settlement was posted: under which map, with which activity. */
export interface PostedAs {
  readonly mapVersion: number
  readonly pullNo: number
}

/** The posting that stands, if the settlement is posted. */
export const postedAs = async (tx: Transaction, key: SettlementKey, generation?: number): Promise<PostedAs | null> => {
  const [row] = await rowsOf(
    tx,
    { mapVersion: is.whole, pullNo: is.whole },
    sql`
    SELECT p.map_version AS "mapVersion", greatest(p.pull_no, (SELECT max(c.pull_no) FROM correction c WHERE c.source = p.source
      AND c.key = p.key AND c.currency = p.currency AND c.generation = p.generation)) AS "pullNo"
    FROM posting p JOIN settlement s USING (client_id, source, key, currency)
    WHERE p.client_id = current_client() AND p.source = ${key.source} AND p.key = ${key.key} AND p.currency = ${key.currency}
      AND p.generation = ${generation === undefined ? sql`s.generation AND s.state = 'posted'` : generation}`,
  )
  return row ?? null
}
