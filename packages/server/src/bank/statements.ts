import type { StatementHead } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** The code of the account that a statement names by it or by the bank's own number; null: none of this client's. */
export const accountNamed = async (tx: Transaction, named: string): Promise<string | null> => {
  const [account] = await rowsOf(
    tx,
    { code: is.text },
    sql`SELECT code FROM account WHERE client_id = current_client() AND type IN ('bank', 'card') AND (code = ${named} OR bank_number = ${named})
      ORDER BY code <> ${named} LIMIT 1`,
  )
  return account?.code ?? null
}

/** Keeps what statements say of themselves. One that is brought again, in whatever format, is the one that is there. */
export const storeStatements = async (
  tx: Transaction,
  heads: readonly StatementHead[],
  { pullId, format }: { readonly pullId: string; readonly format: string },
): Promise<void> => {
  for (const head of heads) {
    const account = await accountNamed(tx, head.bankAccount)
    if (account === null) continue
    const id = [head.from, head.to, head.opening ?? '', head.closing ?? '', head.lines].join(' ')
    await tx.execute(sql`INSERT INTO statement (client_id, bank_account, statement_id, number, format, currency, from_date, to_date, opening, closing, lines, sum,
        pull_id, at)
      VALUES (current_client(), ${account}, ${id}, ${head.number}, ${format}, ${head.currency}, ${head.from}, ${head.to}, ${head.opening}, ${head.closing},
        ${head.lines}, ${head.sum}, ${pullId}, clock_now()) ON CONFLICT DO NOTHING`)
  }
}
