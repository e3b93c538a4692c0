import { foreignKey, integer, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core'
import { clientId, moment } from '../columns.ts'
import { act } from '../settlements/act.ts'

/** The seal of an act: an HMAC over it, its objects and the seal before. `seq` counts a client's acts without a gap. Append-only. */
export const actSeal = pgTable(
  'act_seal',
  {
    clientId: clientId(),
    seq: integer('seq').notNull(),
    actId: text('act_id').notNull(),
    /** Which key made it. */
    keyId: text('key_id').notNull(),
    seal: text('seal').notNull(),
    sealedAt: moment('sealed_at').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.seq] }),
    unique('act_seal_of_act').on(table.clientId, table.actId),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)
