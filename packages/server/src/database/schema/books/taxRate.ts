import { date, foreignKey, integer, numeric, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { taxComponent } from './taxComponent.ts'

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
