import { sql } from 'drizzle-orm'
import { check, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency } from '../columns.ts'
import { source } from './source.ts'

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
