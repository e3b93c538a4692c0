import { serviceSorts } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { check, foreignKey, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { contact } from '../books/contact.ts'
import { client } from '../clients/client.ts'
import { clientId, moment, oneOf } from '../columns.ts'
import { serviceGrant } from '../grants/serviceGrant.ts'

export const source = pgTable(
  'source',
  {
    clientId: clientId().references(() => client.clientId),
    source: text('source').notNull(),
    name: text('name').notNull(),
    shape: text('shape').notNull(),
    /** What sort of service it is, as people call it; null where nobody has said. */
    service: text('service'),
    options: jsonb('options').notNull().default({}),
    bankTexts: jsonb('bank_texts').notNull().default([]),
    /** Where it is pulled from: null for sources that come as files only. */
    address: text('address'),
    /** Sealed; see `unseal`. */
    credentials: jsonb('credentials'),
    /** What it is pulled by, where that was granted: of which login, and which of its shops. */
    grantId: text('grant_id'),
    /** `service/shop`: one shop serves one client. */
    shop: text('shop').unique('source_shop'),
    /** Under whom what it sells and charges stands as one, where documents name somebody; null: not said. */
    contact: text('contact'),
    /** What it may tell of customers: nothing, their name, or all. */
    personalData: text('personal_data').notNull().default('all'),
    cursor: text('cursor'),
    pulledTo: moment('pulled_to'),
    /** Up to when the source was asked, however quiet it was; null where it comes as files: then its last line says so. */
    readTo: moment('read_to'),
    /** Number of the last pull or upload that was stored; the lock on this row orders them. */
    lastPull: integer('last_pull').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source] }),
    foreignKey({
      columns: [table.clientId, table.grantId],
      foreignColumns: [serviceGrant.clientId, serviceGrant.grantId],
    }),
    foreignKey({ columns: [table.clientId, table.contact], foreignColumns: [contact.clientId, contact.code] }),
    check('source_granted', sql`(grant_id IS NULL) = (shop IS NULL)`),
    check('source_shape', sql`shape IN ('combined', 'channel', 'gateway')`),
    check('source_service', oneOf('service', serviceSorts)),
    check('source_personal_data', sql`personal_data IN ('none', 'name', 'all')`),
  ],
)
