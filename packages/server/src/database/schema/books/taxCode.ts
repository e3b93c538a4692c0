import { treatments } from '@culvert/core'
import { boolean, check, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, oneOf } from '../columns.ts'

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
