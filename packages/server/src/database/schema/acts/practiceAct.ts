import { check, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { practice } from '../clients/practice.ts'
import { moment, oneOf } from '../columns.ts'
import { practiceActSorts } from './practiceActSorts.ts'

/** Something done beside all clients: signed in, invited, let go. Sealed like the acts of a client. Append-only. */
export const practiceAct = pgTable(
  'practice_act',
  {
    practiceId: integer('practice_id')
      .notNull()
      .references(() => practice.practiceId),
    seq: integer('seq').notNull(),
    sort: text('sort').notNull(),
    at: moment('at').notNull(),
    /** Null: somebody who is not known. */
    by: integer('by'),
    note: text('note').notNull(),
    subject: text('subject'),
    key: text('key'),
    before: jsonb('before'),
    after: jsonb('after'),
    keyId: text('key_id').notNull(),
    seal: text('seal').notNull(),
  },
  table => [
    primaryKey({ columns: [table.practiceId, table.seq] }),
    check('practice_act_sort', oneOf('sort', practiceActSorts)),
  ],
)
