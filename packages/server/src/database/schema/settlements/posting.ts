import { sql } from 'drizzle-orm'
import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency } from '../columns.ts'
import { mapVersion } from '../mapping/mapVersion.ts'
import { act } from './act.ts'
import { settlement } from './settlement.ts'

/** Append-only. A generation above 1 refers to the reversal of the one before. */
export const posting = pgTable(
  'posting',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    previous: integer('previous').generatedAlwaysAs(sql`nullif(generation - 1, 0)`),
    actId: text('act_id').notNull(),
    mapVersion: integer('map_version').notNull(),
    /** Activity stored up to this pull of the source went in. */
    pullNo: integer('pull_no').notNull(),
    inputHash: text('input_hash').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency, table.generation] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency],
      foreignColumns: [settlement.clientId, settlement.source, settlement.key, settlement.currency],
    }),
    foreignKey({
      columns: [table.clientId, table.mapVersion],
      foreignColumns: [mapVersion.clientId, mapVersion.version],
    }),
  ],
)
