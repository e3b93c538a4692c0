import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { takesPayments } from './takesPayments.ts'

/** Holds the accounts that a source is to pay into or draw from, so that none ceases to take payments meanwhile. @throws Refused naming the first that takes none */
export const holdBanks = async (tx: Transaction, accounts: readonly string[]): Promise<void> => {
  const held = new Set(
    (
      await rowsOf(
        tx,
        { code: is.text },
        sql`SELECT code FROM account a WHERE client_id = current_client() AND code = ANY(${sql.param([...accounts])}::text[]) AND ${takesPayments}
          ORDER BY code FOR SHARE`,
      )
    ).map(row => row.code),
  )
  const account = accounts.find(code => !held.has(code))
  if (account !== undefined) throw new Refused('takes_no_payments', { account })
}
