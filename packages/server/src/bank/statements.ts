import { subjectKey } from '@culvert/contract'
import type { StatementHead } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, rowsOf, type Transaction } from '../database/connect.ts'
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

/** Keeps the bank's own number of an account that has none. @throws Refused where the account has another, or another account has this one */
export const tieNumber = async (
  tx: Transaction,
  actor: Actor,
  { account, number }: { readonly account: string; readonly number: string },
): Promise<void> => {
  const taken = await accountNamed(tx, number)
  if (taken === account) return
  if (taken !== null) throw new Refused('bank_number_taken', { number })
  const tied = await rowsOf(
    tx,
    {},
    sql`UPDATE account SET bank_number = ${number} WHERE client_id = current_client() AND code = ${account} AND bank_number IS NULL
      AND type IN ('bank', 'card') AND NOT archived RETURNING code`,
  )
  if (tied.length === 0) throw new Refused('bank_number_other', { account, number })
  await recordAct(tx, actor, {
    sort: 'save_account',
    note: `${account} is ${number} at the bank`,
    touched: [
      { subject: 'account', key: subjectKey(account), before: { bankNumber: null }, after: { bankNumber: number } },
    ],
  })
}
