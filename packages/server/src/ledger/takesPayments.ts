import { type SQL, sql } from 'drizzle-orm'

/** Whether payouts may be paid into account `a`, and drawn from it. */
export const takesPayments: SQL = sql`(a.type IN ('bank', 'card') AND a.takes_payments AND a.takes_postings AND NOT a.archived)`
