import { foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId, currency } from '../columns.ts'
import { source } from './source.ts'

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
