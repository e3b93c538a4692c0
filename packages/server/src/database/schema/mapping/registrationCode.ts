import { foreignKey, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId } from '../columns.ts'
import { registration } from './registration.ts'

/** A tax code feeds the returns of one registration. */
export const registrationCode = pgTable(
  'registration_code',
  {
    clientId: clientId(),
    taxCode: text('tax_code').notNull(),
    registrationId: integer('registration_id').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.taxCode] }),
    foreignKey({
      columns: [table.clientId, table.registrationId],
      foreignColumns: [registration.clientId, registration.registrationId],
    }),
  ],
)
