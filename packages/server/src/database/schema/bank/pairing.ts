import { check, foreignKey, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, minor, oneOf } from '../columns.ts'
import { entry } from '../entries/entry.ts'
import { act } from '../settlements/act.ts'

/** What was decided about bank lines and transfers: that they are the same money, where else a line belongs, or that they are left out. */
export const pairing = pgTable(
  'pairing',
  {
    clientId: clientId(),
    pairingId: text('pairing_id').notNull(),
    bankAccount: text('bank_account').notNull(),
    /** paired, coded (a bank line straight to an account) or set_aside. */
    sort: text('sort').notNull().default('paired'),
    /** certain, likely, possible, or by_hand where a person chose the members. */
    sureness: text('sureness').notNull(),
    evidence: jsonb('evidence').notNull().default({}),
    /** Deposited less paid out, minor units: what its entry books as a fee or an exchange difference. */
    difference: minor('difference').notNull().default(0),
    /** Why it was set aside, or what was written beside a coded line. */
    note: text('note').notNull().default(''),
    /** The entry that it posted: a difference, or a coded line. */
    fiscalYear: integer('fiscal_year'),
    number: integer('number'),
    actId: text('act_id').notNull(),
    undoneBy: text('undone_by'),
  },
  table => [
    check('pairing_sort', oneOf('sort', ['paired', 'coded', 'set_aside'])),
    check('pairing_sureness', oneOf('sureness', ['certain', 'likely', 'possible', 'by_hand'])),
    primaryKey({ columns: [table.clientId, table.pairingId] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    index('pairing_by_entry').on(table.clientId, table.fiscalYear, table.number),
  ],
)
