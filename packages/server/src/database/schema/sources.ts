import { sql } from 'drizzle-orm'
import { check, foreignKey, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from './books.ts'
import { client } from './clients.ts'
import { clientId, currency, moment } from './columns.ts'

// Sources, and what they report.

export const source = pgTable(
  'source',
  {
    clientId: clientId().references(() => client.clientId),
    source: text('source').notNull(),
    name: text('name').notNull(),
    shape: text('shape').notNull(),
    options: jsonb('options').notNull().default({}),
    bankTexts: jsonb('bank_texts').notNull().default([]),
    /** Where it is pulled from: null for sources that come as files only. */
    address: text('address'),
    credentials: jsonb('credentials'),
    cursor: text('cursor'),
    pulledTo: moment('pulled_to'),
    /** Up to when the source was asked, however quiet it was; null where it comes as files: then its last line says so. */
    readTo: moment('read_to'),
    /** Number of the last pull or upload that was stored; the lock on this row orders them. */
    lastPull: integer('last_pull').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source] }),
    check('source_shape', sql`shape IN ('combined', 'channel', 'gateway')`),
  ],
)

export const sourceClearing = pgTable(
  'source_clearing',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    account: text('account').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.currency] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** Bank accounts that a source pays into or draws from; region '' serves all. */
export const sourceBank = pgTable(
  'source_bank',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    direction: text('direction').notNull(),
    currency: currency().notNull(),
    region: text('region').notNull().default(''),
    account: text('account').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.direction, table.currency, table.region] }),
    check('source_bank_direction', sql`direction IN ('into', 'from')`),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** A source's options from a version of the map on; append-only. Version 0: as it was made. What stands now is kept with the source as well. */
export const sourceOptions = pgTable(
  'source_options',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    version: integer('version').notNull(),
    options: jsonb('options').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.version] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)
