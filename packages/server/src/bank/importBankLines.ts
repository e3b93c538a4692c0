import type { StatementOutcome } from '@culvert/contract'
import type { BankLine, FaultList } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { refuseOn } from '../sources/fileRefused.ts'

/**
 * Stores bank lines that are not there yet. A line names its account by code or by the bank's own number.
 * @throws FileRefused when an account is none of this client's.
 */
export const importBankLines = async (
  tx: Transaction,
  lines: readonly BankLine[],
  context: { pullId: string; faults: FaultList },
): Promise<StatementOutcome> => {
  const accounts = await rowsOf<{ code: string; bank_number: string | null; currency: string }>(
    tx,
    sql`
    SELECT code, bank_number, currency FROM account WHERE type IN ('bank', 'card') ORDER BY code FOR SHARE`,
  )
  const codeOf = (named: string) => accounts.find(account => account.code === named || account.bank_number === named)
  lines.forEach((line, index) => {
    const account = codeOf(line.bankAccount)
    if (!account)
      context.faults.add({ row: index + 2, column: 'bank_account', value: line.bankAccount, code: 'unknown_account' })
    else if (account.currency !== line.currency)
      context.faults.add({ row: index + 2, column: 'currency', value: line.currency, code: 'unknown_currency' })
  })
  refuseOn(context.faults)
  const rows = JSON.stringify(lines.map(line => ({ ...line, account: codeOf(line.bankAccount)?.code })))
  const added = await rowsOf<{ line_id: string }>(
    tx,
    sql`
    INSERT INTO bank_line (client_id, bank_account, line_id, date, amount, currency, description, reference, pull_id)
    SELECT current_client(), b.account, b."lineId", b.date, b.amount, b.currency, b.description, b.reference, ${context.pullId}
    FROM jsonb_to_recordset(${rows}::jsonb) AS b(account text, "lineId" text, date date, amount bigint, currency char(3),
      description text, reference text)
    ORDER BY b.account, b."lineId"
    ON CONFLICT DO NOTHING RETURNING line_id`,
  )
  await tx.execute(sql`INSERT INTO open_bank_line (client_id, bank_account, line_id, date, amount)
    SELECT client_id, bank_account, line_id, date, amount FROM bank_line
    WHERE client_id = current_client() AND pull_id = ${context.pullId} ON CONFLICT DO NOTHING`)
  await refreshSummary(tx, ['bank'])
  const dates = lines.map(line => line.date).sort()
  return {
    added: added.length,
    same: lines.length - added.length,
    from: dates[0] ?? null,
    to: dates.at(-1) ?? null,
    accounts: [...new Set(lines.map(line => codeOf(line.bankAccount)?.code ?? ''))].sort(),
  }
}
