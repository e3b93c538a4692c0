import { sql } from 'drizzle-orm'
import { check, date, foreignKey, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { act } from '../settlements/act.ts'
import { source } from '../sources/source.ts'

/** What somebody has said of a day, statement or order that a proof names: that nothing happened, or why it stays open. Append-only but for its end. */
export const proofAnswer = pgTable(
  'proof_answer',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    about: text('about').notNull(),
    /** The day (local), the statement's number, or the order. */
    name: text('name').notNull(),
    reason: text('reason').notNull(),
    /** Last local date on which it counts; null: for good. */
    until: date('until'),
    actId: text('act_id').notNull(),
    undoneBy: text('undone_by'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.actId, table.source, table.about, table.name] }),
    uniqueIndex('proof_answer_standing')
      .on(table.clientId, table.source, table.about, table.name)
      .where(sql`undone_by IS NULL`),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({ columns: [table.clientId, table.undoneBy], foreignColumns: [act.clientId, act.actId] }),
    check('proof_answer_about', sql`about IN ('day', 'statement', 'order')`),
  ],
)
