import { sql } from 'drizzle-orm'
import { check, date, foreignKey, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor, oneOf, safe } from '../columns.ts'
import { contact } from './contact.ts'

/** An invoice or bill of the former books that is not paid, or in part; amounts in its currency, minor units. */
export const openItem = pgTable(
  'open_item',
  {
    clientId: clientId(),
    sort: text('sort').notNull(),
    contact: text('contact').notNull(),
    number: text('number').notNull(),
    date: date('date').notNull(),
    due: date('due'),
    currency: currency().notNull(),
    amount: minor('amount').notNull(),
    open: minor('open').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.sort, table.contact, table.number] }),
    foreignKey({ columns: [table.clientId, table.contact], foreignColumns: [contact.clientId, contact.code] }),
    check('open_item_sort', oneOf('sort', ['invoice', 'bill'])),
    check('open_item_range', sql`${safe('amount')} AND ${safe('open')}`),
  ],
)
