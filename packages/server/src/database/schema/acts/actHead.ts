import { integer, pgTable, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'

/** The last seal of a client's acts; whoever seals holds it. */
export const actHead = pgTable('act_head', {
  clientId: integer('client_id')
    .primaryKey()
    .references(() => client.clientId),
  seq: integer('seq').notNull(),
  seal: text('seal').notNull(),
})
