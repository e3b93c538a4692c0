import { boolean, foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { account } from './account.ts'
import { taxCode } from './taxCode.ts'

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
