import { sql } from 'drizzle-orm'
import type { Transaction } from '../database/connect.ts'
import { type Stage, stages } from './stages.ts'

/**
 * Says that what waits at some stages is to be counted anew: whoever reads the course does so. A writer's last lock; it counts nothing itself, so
 * that no writer waits for another's counting.
 */
export const markStages = async (tx: Transaction, changed: readonly Stage[]): Promise<void> => {
  const marked = stages.filter(stage => changed.includes(stage)).sort()
  await tx.execute(sql`
    INSERT INTO client_summary (client_id, stage, stale, marks)
    SELECT current_client(), s, true, 1 FROM unnest(${sql.param(marked)}::text[]) s ORDER BY s
    ON CONFLICT (client_id, stage) DO UPDATE SET stale = true, marks = client_summary.marks + 1`)
}
