import { type BankCorrection, type BankLine, type FaultList, maxMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { copyRecords, field, RecordBytes } from '../activity/copyRecords.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** A chunk is copied when it has so many lines. */
const chunkLines = 20_000

/** Takes bank lines as they are read, and keeps none of them. */
export interface BankStage {
  /** `row` is where the line stands in its file. */
  add(line: BankLine, row: number): void | Promise<void>
  /** A line of this statement, or of one that is stored, is replaced or deleted. */
  correct(correction: BankCorrection, row: number): void
  /** Copies the rest, and checks what can be checked only of all: accounts, currencies and sums. */
  finish(faults: FaultList): Promise<void>
}

/** Opens a temporary table for the lines of a statement; it goes with the transaction. */
export const openBankStage = (tx: Transaction): BankStage => {
  let records = new RecordBytes()
  let made = false
  const corrections: (BankCorrection & { readonly row: number })[] = []
  /** Sizes of the amounts so far, by currency: minor units. */
  const sizes = new Map<string, number>()
  let beyond: { row: number; amount: number } | null = null
  const copy = async (): Promise<void> => {
    const chunk = records
    records = new RecordBytes()
    if (!made)
      await tx.execute(sql`CREATE TEMPORARY TABLE incoming_bank (row int, bank_account text, line_id text, date date, amount bigint,
        currency text, description text, reference text, details jsonb) ON COMMIT DROP`)
    made = true
    if (chunk.lines > 0)
      await copyRecords(
        tx,
        'incoming_bank (row, bank_account, line_id, date, amount, currency, description, reference, details)',
        chunk,
      )
  }
  return {
    add: (line, row) => {
      const size = (sizes.get(line.currency) ?? 0) + Math.abs(line.amount)
      if (size > maxMinor) beyond ??= { row, amount: line.amount }
      else sizes.set(line.currency, size)
      records.add(
        `${row}\t${field(line.bankAccount)}\t${field(line.lineId)}\t${line.date}\t${line.amount}\t${line.currency}\t${field(line.description)}\t${field(line.reference)}\t${field(line.details ? JSON.stringify(line.details) : null)}\n`,
      )
      if (records.lines >= chunkLines) return copy()
    },
    correct: (correction, row) => {
      corrections.push({ ...correction, row })
    },
    finish: async faults => {
      await copy()
      if (beyond !== null)
        faults.add({ row: beyond.row, column: 'amount', value: String(beyond.amount), code: 'sum_out_of_range' })
      await checkAccounts(tx, faults)
      if (corrections.length > 0) await applyCorrections(tx, corrections, faults)
    },
  }
}

const mostNamed = 10_000

// A line names its account by code or by the bank's own number.
const checkAccounts = async (tx: Transaction, faults: FaultList): Promise<void> => {
  await tx.execute(sql`ALTER TABLE incoming_bank ADD COLUMN code text`)
  await tx.execute(sql`UPDATE incoming_bank i SET code = a.code FROM account a
    WHERE a.client_id = current_client() AND a.type IN ('bank', 'card') AND i.bank_account = a.code`)
  await tx.execute(sql`UPDATE incoming_bank i SET code = a.code FROM account a
    WHERE i.code IS NULL AND a.client_id = current_client() AND a.type IN ('bank', 'card') AND i.bank_account = a.bank_number`)
  const wrong = await rowsOf(
    tx,
    { row: is.whole, account: is.text, currency: is.text, unknown: is.yes },
    sql`SELECT i.row, i.bank_account AS account, i.currency, i.code IS NULL AS unknown FROM incoming_bank i
      LEFT JOIN account a ON a.client_id = current_client() AND a.code = i.code
      WHERE i.code IS NULL OR a.currency <> i.currency ORDER BY i.row LIMIT ${mostNamed}`,
  )
  for (const { row, account, currency, unknown } of wrong)
    faults.add(
      unknown
        ? { row, column: 'bank_account', value: account, code: 'unknown_account', currency }
        : { row, column: 'currency', value: currency, code: 'unknown_currency' },
    )
}

/** Corrected lines go: those that arrive with their correction are not stored, those stored before are removed while nothing is decided about them. */
const applyCorrections = async (
  tx: Transaction,
  corrections: readonly (BankCorrection & { readonly row: number })[],
  faults: FaultList,
): Promise<void> => {
  const named = sql`jsonb_to_recordset(${JSON.stringify(corrections)}::jsonb) AS c(row int, "bankAccount" text, "lineId" text)`
  await tx.execute(
    sql`DELETE FROM incoming_bank i USING ${named} WHERE i.bank_account = c."bankAccount" AND i.line_id = c."lineId"`,
  )
  // Decisions hold the lines that they are about: looked at under the same lock.
  const stored = await rowsOf(
    tx,
    { row: is.whole, account: is.text, line: is.text, decided: is.yes },
    sql`SELECT c.row, b.bank_account AS account, b.line_id AS line, NOT EXISTS (SELECT FROM open_bank_line o WHERE o.client_id = b.client_id
        AND o.bank_account = b.bank_account AND o.line_id = b.line_id FOR UPDATE) AS decided
      FROM ${named} JOIN account a ON a.client_id = current_client() AND a.type IN ('bank', 'card')
        AND (a.code = c."bankAccount" OR a.bank_number = c."bankAccount")
      JOIN bank_line b ON b.client_id = a.client_id AND b.bank_account = a.code AND b.line_id = c."lineId"
      ORDER BY b.bank_account COLLATE "C", b.line_id COLLATE "C"`,
  )
  for (const { row, account, line, decided } of stored)
    if (decided) faults.add({ row, column: 'CORRECTFITID', value: line, code: 'corrects_decided' })
    else await tx.execute(sql`SELECT correct_bank_line(${account}, ${line})`)
}
