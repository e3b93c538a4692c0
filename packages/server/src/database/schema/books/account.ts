import { accountTypes } from '@culvert/core'
import { boolean, check, pgTable, primaryKey, text, uniqueIndex } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, currency, oneOf } from '../columns.ts'

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
    /** What it is for, in whoever keeps it's words. */
    description: text('description').notNull().default(''),
    /** Whether entries may book to it; false: it only heads or sums others. */
    takesPostings: boolean('takes_postings').notNull().default(true),
    /** Of a bank or card account: whether payouts may be paid into it and drawn from it; false: one that is put aside, such as savings. */
    takesPayments: boolean('takes_payments').notNull().default(true),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    check('account_type', oneOf('type', accountTypes)),
    uniqueIndex('account_bank_number').on(table.clientId, table.bankNumber),
  ],
)
