import { type SQL, sql } from 'drizzle-orm'
import { oneRow, type Transaction } from './connect.ts'
import { is } from './rows.ts'

/** From so many new rows on, which are also a tenth of all, the planner's statistics are taken anew. */
const manyRows = 2000

// Only the owner may ANALYZE: these are its functions.
const refresh: Record<'activity_line' | 'settlement' | 'bank_line' | 'tender_match', SQL> = {
  activity_line: sql`SELECT refresh_activity_statistics()`,
  settlement: sql`SELECT refresh_activity_statistics()`,
  bank_line: sql`SELECT refresh_bank_statistics()`,
  tender_match: sql`SELECT refresh_tie_statistics()`,
}

/** Takes statistics anew after many rows came into a table at once, which the planner would take for an empty one. */
export const refreshStatistics = async (tx: Transaction, table: keyof typeof refresh, added: number): Promise<void> => {
  if (added < manyRows) return
  const { known } = await oneRow(
    tx,
    { known: is.whole },
    sql`SELECT greatest(reltuples, 0)::bigint AS known FROM pg_class WHERE oid = part_of(${table}, current_client())`,
  )
  if (added > known / 10) await tx.execute(refresh[table])
}
