import type { TraceStep } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Found } from './traceStart.ts'

/** A step of a way, not yet said whether one stands on it. */
export type Step = Omit<TraceStep, 'here'>

/** The generation of a settlement’s posting that what was found belongs to; null where it is not posted. */
export const generationOf = async (tx: Transaction, { key, generation }: Found): Promise<number | null> => {
  if (generation !== null) return generation
  const [row] = await rowsOf(
    tx,
    { generation: is.whole },
    sql`SELECT generation FROM settlement WHERE client_id = current_client()
    AND source = ${key.source} AND key = ${key.key} AND currency = ${key.currency} AND state = 'posted'`,
  )
  return row?.generation ?? null
}
