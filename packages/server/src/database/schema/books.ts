import { accountTypes, treatments } from '@culvert/core'
import {
  boolean,
  check,
  date,
  foreignKey,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { client } from './clients.ts'
import { clientId, currency, oneOf } from './columns.ts'

// The chart of accounts, tax codes and exchange rates.

export const account = pgTable(
  'account',
  {
    clientId: clientId().references(() => client.clientId),
    code: text('code').notNull(),
    name: text('name').notNull(),
    type: text('type').notNull(),
    currency: currency().notNull(),
    archived: boolean('archived').notNull().default(false),
    bankNumber: text('bank_number'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    check('account_type', oneOf('type', accountTypes)),
    uniqueIndex('account_bank_number').on(table.clientId, table.bankNumber),
  ],
)

export const taxCode = pgTable(
  'tax_code',
  {
    clientId: clientId().references(() => client.clientId),
    code: text('code').notNull(),
    name: text('name').notNull(),
    treatment: text('treatment').notNull().default('taxed'),
    basis: text('basis').notNull(),
    use: text('use').notNull(),
    reverseCharge: boolean('reverse_charge').notNull().default(false),
    /** Country whose tax it is, ISO 3166-1; null: not said. */
    country: text('country'),
    /** Share of the tax that is taken back, percent by first date; none: all of it. */
    recovery: jsonb('recovery').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    check('tax_code_treatment', oneOf('treatment', treatments)),
    check('tax_code_basis', oneOf('basis', ['inclusive', 'exclusive', 'none'])),
    check('tax_code_use', oneOf('use', ['sales', 'purchases'])),
  ],
)

export const taxComponent = pgTable(
  'tax_component',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    position: integer('position').notNull(),
    name: text('name').notNull(),
    account: text('account').notNull(),
    inputAccount: text('input_account'),
    compound: boolean('compound').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code, table.position] }),
    foreignKey({ columns: [table.clientId, table.code], foreignColumns: [taxCode.clientId, taxCode.code] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.inputAccount], foreignColumns: [account.clientId, account.code] }),
  ],
)

export const taxRate = pgTable(
  'tax_rate',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    position: integer('position').notNull(),
    from: date('from').notNull(),
    percent: numeric('percent').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code, table.position, table.from] }),
    foreignKey({
      columns: [table.clientId, table.code, table.position],
      foreignColumns: [taxComponent.clientId, taxComponent.code, taxComponent.position],
    }),
  ],
)

export const exchangeRate = pgTable(
  'exchange_rate',
  {
    clientId: clientId().references(() => client.clientId),
    date: date('date').notNull(),
    from: currency('from').notNull(),
    to: currency('to').notNull(),
    rate: numeric('rate').notNull(),
  },
  table => [primaryKey({ columns: [table.clientId, table.date, table.from, table.to] })],
)
