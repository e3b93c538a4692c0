import { integer, jsonb, pgTable, primaryKey, uniqueIndex } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId } from '../columns.ts'

/** A client's rules, applied after the routes in the order of their positions. */
export const rule = pgTable(
  'rule',
  {
    clientId: clientId().references(() => client.clientId),
    ruleId: integer('rule_id').notNull(),
    position: integer('position').notNull(),
    conditions: jsonb('conditions').notNull(),
    actions: jsonb('actions').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.ruleId] }),
    uniqueIndex('rule_position').on(table.clientId, table.position),
  ],
)
