import { sql } from 'drizzle-orm'

/** Condition that anything is left of a settlement of alias `s`: one that was posted once keeps its row, also when its file was taken back. */
export const isLeft = sql.raw(`(s.state <> 'proposed' OR s.first_date IS NOT NULL OR s.has_head)`)
