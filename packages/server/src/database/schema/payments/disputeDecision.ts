import { sql } from 'drizzle-orm'
import { check, foreignKey, integer, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { entry } from '../entries/entry.ts'
import { act } from '../settlements/act.ts'

/** What was decided of a payment that a buyer's bank took back: the entry that books it, and whether it was taken back. */
export const disputeDecision = pgTable(
  'dispute_decision',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    source: text('source').notNull(),
    /** The chargeback's line. */
    lineId: text('line_id').notNull(),
    /** written_off or credited; one that was won is closed by its reversal. */
    decision: text('decision').notNull(),
    note: text('note').notNull().default(''),
    actId: text('act_id').notNull(),
    undoneBy: text('undone_by'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number] }),
    // Two who decide at once: the second finds it decided.
    uniqueIndex('dispute_decided_once').on(table.clientId, table.source, table.lineId).where(sql`undone_by IS NULL`),
    check('dispute_decision_sort', sql`decision IN ('written_off', 'credited')`),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({ columns: [table.clientId, table.undoneBy], foreignColumns: [act.clientId, act.actId] }),
  ],
)
