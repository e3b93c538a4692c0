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
    SELECT p.map_version AS "mapVersion", p.as_of AS "pullNo" FROM settlement_as_of p
    WHERE p.client_id = current_client() AND p.source = ${key.source} AND p.key = ${key.key} AND p.currency = ${key.currency}
      AND ${generation === undefined ? sql`p.stands` : sql`p.generation = ${generation}`}`,
  )
  return row ?? null
}
