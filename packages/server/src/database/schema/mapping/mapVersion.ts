import { sql } from 'drizzle-orm'
import { boolean, integer, jsonb, pgTable, primaryKey } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, now } from '../columns.ts'

/** Each saved state of routes, rules, items, tax codes, tax rows, classes and gateways' labels, whole, so that an entry's lines can be resolved again. Append-only. */
export const mapVersion = pgTable(
  'map_version',
  {
    clientId: clientId().references(() => client.clientId),
    version: integer('version').notNull(),
    at: now(),
    by: integer('by').notNull(),
    routes: jsonb('routes').notNull(),
    /** Kept, since reading hundreds of versions for it would cost more than the proof that asks. */
    anyElsewhere: boolean('any_elsewhere').generatedAlwaysAs(sql`routes @> '[{"elsewhere": true}]'`),
    taxCodes: jsonb('tax_codes').notNull(),
    rules: jsonb('rules').notNull().default([]),
    items: jsonb('items').notNull().default([]),
    /** Source by label of a means of payment. */
    labels: jsonb('labels').notNull().default({}),
    /** Null: the codes of supplies were their routes'. */
    taxRows: jsonb('tax_rows'),
    classes: jsonb('classes').notNull().default([]),
    /** What else decided bookings then: accounts, sources, facts of the client, under the number of its shape. Null: saved before they were kept. */
    kept: jsonb('kept'),
  },
  table => [primaryKey({ columns: [table.clientId, table.version] })],
)
