import { boolean, date, foreignKey, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { taxCode } from '../books/taxCode.ts'
import { clientId } from '../columns.ts'
import { item } from './item.ts'

export const route = pgTable(
  'route',
  {
    clientId: clientId(),
    routeId: integer('route_id').notNull(),
    kind: text('kind').notNull(),
    source: text('source'),
    category: text('category'),
    sku: text('sku'),
    location: text('location'),
    gateway: text('gateway'),
    method: text('method'),
    region: text('region'),
    taxLabel: text('tax_label'),
    from: date('from'),
    account: text('account'),
    item: text('item'),
    elsewhere: boolean('elsewhere').notNull().default(false),
    charge: boolean('charge').notNull().default(false),
    taxCode: text('tax_code'),
    segments: jsonb('segments').notNull().default({}),
    block: boolean('block').notNull().default(false),
    /** Why it points where it does, for a route that Culvert proposed. */
    reason: text('reason').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.routeId] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.taxCode], foreignColumns: [taxCode.clientId, taxCode.code] }),
    foreignKey({ columns: [table.clientId, table.item], foreignColumns: [item.clientId, item.code] }),
  ],
)
