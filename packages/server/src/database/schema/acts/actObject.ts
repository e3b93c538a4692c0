import { foreignKey, index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { act } from '../settlements/act.ts'

/** What an act touched, one row an object, with what of it was so before and after. Append-only. */
export const actObject = pgTable(
  'act_object',
  {
    clientId: clientId(),
    actId: text('act_id').notNull(),
    no: integer('no').notNull(),
    subject: text('subject').notNull(),
    key: text('key').notNull(),
    before: jsonb('before'),
    after: jsonb('after'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.actId, table.no] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    index('act_object_of').on(table.clientId, table.subject, table.key),
  ],
)
