import { sql } from 'drizzle-orm'
import {
  boolean,
  check,
  date,
  foreignKey,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { account, taxCode } from './books.ts'
import { client } from './clients.ts'
import { clientId, moment, now } from './columns.ts'

// How activity is mapped, and each saved state of it.

/** What is sold, by its SKU; routes and the cost of goods point here. */
export const item = pgTable(
  'item',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    name: text('name').notNull(),
    otherNames: jsonb('other_names').notNull().default([]),
    account: text('account').notNull(),
    taxCode: text('tax_code'),
    /** Cost of one by first date, minor units of base. */
    costs: jsonb('costs').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.taxCode], foreignColumns: [taxCode.clientId, taxCode.code] }),
  ],
)

/** A client's rules, applied after the routes in the order of their positions. */
export const rule = pgTable(
  'rule',
  {
    clientId: clientId().references(() => client.clientId),
    ruleId: integer('rule_id').notNull(),
    position: integer('position').notNull(),
    conditions: jsonb('conditions').notNull(),
    actions: jsonb('actions').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.ruleId] }),
    uniqueIndex('rule_position').on(table.clientId, table.position),
  ],
)

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

/** Which tax a supply bears: by where, what and when. A condition that is null is none. */
export const taxRow = pgTable(
  'tax_row',
  {
    clientId: clientId().references(() => client.clientId),
    rowId: integer('row_id').notNull(),
    source: text('source'),
    kind: text('kind'),
    label: text('label'),
    region: text('region'),
    class: text('class'),
    from: date('from'),
    /** Null: no tax on purpose. */
    code: text('code'),
    /** Why a code of another country than the region's is meant; empty: not said. */
    reason: text('reason').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.rowId] }),
    foreignKey({ columns: [table.clientId, table.code], foreignColumns: [taxCode.clientId, taxCode.code] }),
  ],
)

/** Which class the goods of a SKU, or of a category, are of; one of the two is empty. */
export const productClass = pgTable(
  'product_class',
  {
    clientId: clientId().references(() => client.clientId),
    sku: text('sku').notNull().default(''),
    category: text('category').notNull().default(''),
    class: text('class').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.sku, table.category] }),
    check('product_class_names_one', sql`(sku = '') <> (category = '')`),
  ],
)

/** A tax period that was filed with an agency; rows are withdrawn, never removed. */
export const taxFiling = pgTable(
  'tax_filing',
  {
    clientId: clientId().references(() => client.clientId),
    filingId: integer('filing_id').notNull(),
    agency: text('agency').notNull(),
    from: date('from').notNull(),
    to: date('to').notNull(),
    filedOn: date('filed_on').notNull(),
    by: integer('by').notNull(),
    at: now(),
    withdrawnAt: moment('withdrawn_at'),
    withdrawnBy: integer('withdrawn_by'),
    /** Why it was withdrawn; empty while it stands. */
    withdrawnFor: text('withdrawn_for').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.filingId] }),
    check('tax_filing_span', sql`"from" <= "to"`),
    check('tax_filing_withdrawn', sql`(withdrawn_at IS NULL) = (withdrawn_for = '')`),
  ],
)

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
