import { sql } from 'drizzle-orm'
import { check, foreignKey, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { account } from '../books/account.ts'
import { clientId } from '../columns.ts'
import { serviceGrant } from '../grants/serviceGrant.ts'

/** What a bank has granted this client for one of its accounts: by a key that it gave, or by consent. Without one, nothing is asked of any bank. */
export const bankGrant = pgTable(
  'bank_grant',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    /** Where it is asked with a key. */
    address: text('address'),
    credentials: jsonb('credentials'),
    /** By consent: of which login, and which of its accounts, as `service/account`; one serves one client. */
    grantId: text('grant_id'),
    shop: text('shop').unique('bank_grant_shop'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
    foreignKey({
      columns: [table.clientId, table.grantId],
      foreignColumns: [serviceGrant.clientId, serviceGrant.grantId],
    }),
    check(
      'bank_grant_by',
      sql`(address IS NULL) = (credentials IS NULL) AND (grant_id IS NULL) = (shop IS NULL) AND (address IS NULL) <> (grant_id IS NULL)`,
    ),
  ],
)
