import type { BankItem, PairingFacts, TransferItem } from '@culvert/contract'
import { addDays, isTellingReference, readText, referenceDays, WordsIndex } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Payouts decided longer ago than this before the first open bank line are not looked at: no bank writes a reference so late. */
const daysBack = 400

/** Open bank lines that bear the reference of a payout decided already, and open payouts whose reference a decided bank line bears in time. */
export const boundElsewhere = async (
  tx: Transaction,
  account: string,
  open: { readonly transfers: readonly TransferItem[]; readonly lines: readonly BankItem[] },
): Promise<Pick<PairingFacts, 'boundLines' | 'boundTransfers'>> => ({
  boundLines: await boundLines(tx, account, open.lines),
  boundTransfers: await boundTransfers(tx, account, open.transfers),
})

const textOf = (line: { readonly reference: string; readonly description: string }): string =>
  `${line.reference} \n ${line.description}`

const boundLines = async (tx: Transaction, account: string, lines: readonly BankItem[]): Promise<string[]> => {
  const texts = lines.filter(line => /\d/.test(textOf(line)))
  const first = texts.reduce<string | null>(
    (least, line) => (least === null || line.date < least ? line.date : least),
    null,
  )
  if (first === null) return []
  const decided = await rowsOf(
    tx,
    { reference: is.text },
    sql`SELECT DISTINCT reference FROM transfer WHERE client_id = current_client() AND bank_account = ${account} AND paired AND NOT reversed
      AND reference IS NOT NULL AND date >= ${addDays(first, -daysBack)}`,
  )
  const index = new WordsIndex<true>()
  for (const { reference } of decided) if (isTellingReference(reference)) index.add(reference, true)
  return texts.filter(line => index.in(readText(textOf(line))).length > 0).map(line => line.id)
}

const boundTransfers = async (
  tx: Transaction,
  account: string,
  transfers: readonly TransferItem[],
): Promise<string[]> => {
  const index = new WordsIndex<TransferItem>()
  const telling = transfers.filter(transfer => isTellingReference(transfer.reference))
  for (const transfer of telling) index.add(transfer.reference as string, transfer)
  const dates = telling.map(transfer => transfer.date).sort()
  const [first, last] = [dates[0], dates.at(-1)]
  if (first === undefined || last === undefined) return []
  const decided = await rowsOf(
    tx,
    { date: is.date, description: is.text, reference: is.text },
    sql`SELECT b.date::text, b.description, b.reference FROM bank_line b
      WHERE b.client_id = current_client() AND b.bank_account = ${account} AND b.date BETWEEN ${first} AND ${addDays(last, referenceDays)}
        AND NOT EXISTS (SELECT FROM open_bank_line o WHERE o.client_id = b.client_id AND o.bank_account = b.bank_account AND o.line_id = b.line_id)
        AND (b.description ~ '[0-9]' OR b.reference ~ '[0-9]')`,
  )
  const bound = new Set<string>()
  for (const line of decided)
    for (const { meaning } of index.in(readText(textOf(line))))
      if (meaning.date <= line.date && line.date <= addDays(meaning.date, referenceDays)) bound.add(meaning.id)
  return [...bound]
}
