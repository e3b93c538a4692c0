import type { StatementOutcome } from '@culvert/contract'
import type { BankLine, FaultList } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { markStages } from '../course/markStages.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { holdStatements } from '../database/locks.ts'
import { is } from '../database/rows.ts'
import { refreshStatistics } from '../database/statistics.ts'
import { type BankStage, openBankStage } from './stageBankLines.ts'

/** Stores lines that are held whole. @throws FileRefused when an account is none of this client's. */
export const importBankLines = async (
  tx: Transaction,
  lines: readonly BankLine[],
  context: { pullId: string; faults: FaultList; format: string },
): Promise<StatementOutcome> => {
  const stage = openBankStage(tx)
  for (const [index, line] of lines.entries()) await stage.add(line, index + 2)
  return storeStaged(tx, stage, context)
}

/**
 * Stores staged bank lines that are not there yet. @throws FileRefused when something is wrong with them, or was before.
 */
export const storeStaged = async (
  tx: Transaction,
  stage: BankStage,
  { pullId, faults, format }: { pullId: string; faults: FaultList; format: string },
): Promise<StatementOutcome> => {
  await stage.finish(faults)
  refuseOn(faults)
  await holdStatements(tx)
  await leaveOutKnown(tx, format)
  const added = await oneRow(
    tx,
    { count: is.whole },
    sql`
    WITH stored AS (
      INSERT INTO bank_line (client_id, bank_account, line_id, date, amount, currency, description, reference, pull_id, format, details)
      SELECT current_client(), i.code, i.line_id, i.date, i.amount, i.currency, i.description, i.reference, ${pullId}, ${format}, i.details
      FROM incoming_bank i WHERE NOT i.known ORDER BY i.code COLLATE "C", i.line_id COLLATE "C"
      ON CONFLICT DO NOTHING RETURNING line_id)
    SELECT count(*)::int AS count FROM stored`,
  )
  await tx.execute(sql`INSERT INTO open_bank_line (client_id, bank_account, line_id, date, amount)
    SELECT b.client_id, b.bank_account, b.line_id, b.date, b.amount FROM bank_line b
    JOIN incoming_bank i ON i.code = b.bank_account AND i.line_id = b.line_id
    WHERE b.client_id = current_client() AND b.pull_id = ${pullId} ORDER BY b.bank_account COLLATE "C", b.line_id COLLATE "C" ON CONFLICT DO NOTHING`)
  await refreshStatistics(tx, 'bank_line', added.count)
  const told = await oneRow(
    tx,
    { from: is.maybe(is.text), to: is.maybe(is.text), lines: is.whole, accounts: is.list(is.text) },
    sql`SELECT min(date)::text AS "from", max(date)::text AS "to", count(*)::int AS lines,
      coalesce(array_agg(DISTINCT code ORDER BY code), '{}') AS accounts FROM incoming_bank`,
  )
  for (const { code, to } of await rowsOf(
    tx,
    { code: is.text, to: is.text },
    sql`SELECT code, max(date)::text AS "to" FROM incoming_bank GROUP BY code ORDER BY code`,
  ))
    await noteReach(tx, code, to)
  await markStages(tx, ['bank'])
  return { added: added.count, same: told.lines - added.count, from: told.from, to: told.to, accounts: told.accounts }
}

/**
 * Marks lines that another format brought already: the same day, account and amount, under an id that this format does not use. Of several alike as many are known as
 * are there: two equal payments of a day are two. Within one format the ids tell lines apart.
 */
const leaveOutKnown = async (tx: Transaction, format: string): Promise<void> => {
  await tx.execute(sql`ALTER TABLE incoming_bank ADD COLUMN known boolean NOT NULL DEFAULT false`)
  await tx.execute(sql`
    WITH stored AS (
      SELECT b.bank_account, b.line_id, b.date, b.amount,
        row_number() OVER (PARTITION BY b.bank_account, b.date, b.amount ORDER BY b.line_id COLLATE "C") AS place
      FROM bank_line b WHERE b.client_id = current_client() AND b.format <> ${format}
        AND b.bank_account IN (SELECT DISTINCT code FROM incoming_bank)
        AND b.date BETWEEN (SELECT min(date) FROM incoming_bank) AND (SELECT max(date) FROM incoming_bank)
        AND NOT EXISTS (SELECT FROM incoming_bank i WHERE i.code = b.bank_account AND i.line_id = b.line_id)
    ), arriving AS (
      SELECT i.ctid AS at, i.code, i.date, i.amount,
        row_number() OVER (PARTITION BY i.code, i.date, i.amount ORDER BY i.row, i.ctid) AS place
      FROM incoming_bank i WHERE NOT EXISTS (SELECT FROM bank_line b WHERE b.client_id = current_client() AND b.bank_account = i.code AND b.line_id = i.line_id)
    )
    UPDATE incoming_bank i SET known = true FROM arriving a JOIN stored s ON s.bank_account = a.code AND s.date = a.date AND s.amount = a.amount AND s.place = a.place
    WHERE i.ctid = a.at`)
}

/** Notes up to which local date a bank account is told; never less than before. */
export const noteReach = (tx: Transaction, account: string, to: string) =>
  tx.execute(sql`INSERT INTO bank_reach (client_id, bank_account, read_to) VALUES (current_client(), ${account}, ${to})
    ON CONFLICT (client_id, bank_account) DO UPDATE SET read_to = greatest(bank_reach.read_to, excluded.read_to)`)
