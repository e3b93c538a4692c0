import { sql } from 'drizzle-orm'
import { check, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId } from '../columns.ts'

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
