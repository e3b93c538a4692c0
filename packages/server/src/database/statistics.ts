import { type SQL, sql } from 'drizzle-orm'
import { oneRow, type Transaction } from './connect.ts'
import { is } from './rows.ts'

/** Of a table of which nothing is known yet: any index of it looks as good as the key's. */
const fromNothing = 200

interface Refresh {
  /** From so many new rows on, which are also a tenth of all, the planner's statistics are taken anew. */
  readonly from: number
  /** Only the owner may ANALYZE: these are its functions. */
  readonly ask: SQL
}

const refresh: Record<'activity_line' | 'activity_superseded' | 'settlement' | 'bank_line' | 'tender_match', Refresh> =
  {
    activity_line: { from: 2000, ask: sql`SELECT refresh_activity_statistics()` },
    // Looked up for every line beside it: believed to be empty, it is gone through each time.
    activity_superseded: { from: 200, ask: sql`SELECT refresh_superseded_statistics()` },
    settlement: { from: 2000, ask: sql`SELECT refresh_activity_statistics()` },
    bank_line: { from: 2000, ask: sql`SELECT refresh_bank_statistics()` },
    tender_match: { from: 2000, ask: sql`SELECT refresh_tie_statistics()` },
  }

/** Takes statistics anew after many rows came into a table at once, which the planner would take for an empty one. */
export const refreshStatistics = async (tx: Transaction, table: keyof typeof refresh, added: number): Promise<void> => {
  const { from, ask } = refresh[table]
  if (added < Math.min(from, fromNothing)) return
  const { known } = await oneRow(
    tx,
    { known: is.whole },
    sql`SELECT greatest(reltuples, 0)::bigint AS known FROM pg_class WHERE oid = part_of(${table}, current_client())`,
  )
  if (added >= (known === 0 ? fromNothing : from) && added > known / 10) await tx.execute(ask)
}
