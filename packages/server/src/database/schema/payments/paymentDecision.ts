import { decisionSorts } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { check, date, foreignKey, integer, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { clientId, minor, oneOf } from '../columns.ts'
import { entry } from '../entries/entry.ts'
import { act } from '../settlements/act.ts'

/** What somebody decided of a payment that only one side knows of, or both know differently; with the entry that books it, where one does. */
export const paymentDecision = pgTable(
  'payment_decision',
  {
    clientId: clientId(),
    actId: text('act_id').notNull(),
    source: text('source').notNull(),
    /** The channel's tender; of what no order explains, or of what was collected otherwise than an order says, the gateway's collection. */
    lineId: text('line_id').notNull(),
    decision: text('decision').notNull(),
    /** What was open of it, as the gateway signs it. Where it is another now, what was decided does not hold any more. */
    amount: minor('amount').notNull(),
    /** The collection that it was attached to. */
    otherSource: text('other_source'),
    otherLine: text('other_line'),
    /** The last local date on which it waits. */
    until: date('until'),
    account: text('account'),
    taxCode: text('tax_code'),
    fiscalYear: integer('fiscal_year'),
    number: integer('number'),
    note: text('note').notNull().default(''),
    undoneBy: text('undone_by'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.actId, table.source, table.lineId] }),
    // Two who decide at once: the second finds it decided.
    uniqueIndex('payment_decided_once').on(table.clientId, table.source, table.lineId).where(sql`undone_by IS NULL`),
    uniqueIndex('payment_attached_once')
      .on(table.clientId, table.otherSource, table.otherLine)
      .where(sql`undone_by IS NULL AND other_line IS NOT NULL`),
    uniqueIndex('payment_decision_of_entry').on(table.clientId, table.fiscalYear, table.number),
    check('payment_decision_sort', oneOf('decision', decisionSorts)),
    check(
      'payment_decision_attached',
      sql`(decision = 'attached') = (other_line IS NOT NULL AND other_source IS NOT NULL)`,
    ),
    check('payment_decision_waits', sql`(decision = 'waits') = ("until" IS NOT NULL)`),
    check('payment_decision_entry', sql`(fiscal_year IS NULL) = (number IS NULL)`),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({ columns: [table.clientId, table.undoneBy], foreignColumns: [act.clientId, act.actId] }),
  ],
)
