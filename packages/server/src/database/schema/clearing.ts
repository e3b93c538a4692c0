import { date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from './books.ts'
import { clientId, currency, minor } from './columns.ts'
import { source } from './sources.ts'

// What others say that an account holds.

/** What the processor says it holds, at the end of a local date. */
export const reportedBalance = pgTable(
  'reported_balance',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    date: date('date').notNull(),
    available: minor('available').notNull(),
    pending: minor('pending').notNull().default(0),
    reserve: minor('reserve').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.currency, table.date] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)

/** What somebody outside says that an account holds at the end of a local date: an agency, a till's list of gift cards. Debit positive. */
export const statedBalance = pgTable(
  'stated_balance',
  {
    clientId: clientId(),
    account: text('account').notNull(),
    currency: currency().notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.account, table.currency, table.date] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)
