import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { generationOf, type Step } from './step.ts'
import type { Found } from './traceStart.ts'

/** From payouts to the bank lines that they came in, and back. */
export const bankSteps = async (tx: Transaction, found: Found): Promise<Step[]> => {
  const generation = await generationOf(tx, found)
  const { key } = found
  const transfers =
    generation === null
      ? []
      : await rowsOf(
          tx,
          {
            source: is.text,
            payout_line: is.text,
            date: is.date,
            amount: is.minor,
            bank_account: is.text,
            entry: is.text,
            lines: is.maybe(is.list(is.record({ id: is.text, date: is.date, amount: is.minor, description: is.text }))),
          },
          sql`
    SELECT t.source, t.payout_line, t.date::text, t.amount, t.bank_account, t.fiscal_year || '-' || t.number AS entry,
      (SELECT json_agg(json_build_object('id', b.line_id, 'date', b.date, 'amount', b.amount, 'description', b.description) ORDER BY b.date)
        FROM paired_transfer m JOIN paired_bank_line n USING (client_id, pairing_id)
        JOIN bank_line b ON b.client_id = n.client_id AND b.bank_account = n.bank_account AND b.line_id = n.line_id
        WHERE m.client_id = t.client_id AND m.source = t.source AND m.payout_line = t.payout_line AND m.generation = t.generation
          AND m.active) AS lines
    FROM transfer t WHERE t.client_id = current_client() AND t.source = ${key.source} AND t.key = ${key.key}
      AND t.currency = ${key.currency} AND t.generation = ${generation} ORDER BY t.date`,
        )
  const bankLines = transfers.flatMap(transfer => transfer.lines ?? [])
  const [transfer] = transfers
  const [bankLine] = bankLines
  return [
    {
      sort: 'transfer',
      count: transfers.length,
      amount: transfers.length > 0 ? sumMinor(transfers, one => one.amount) : null,
      currency: key.currency,
      title: transfer ? `Transfer to ${transfer.bank_account}` : 'No transfer yet',
      detail: transfer
        ? `${transfer.date}, entry ${transfer.entry}`
        : 'a payout makes one when the settlement is posted',
      link: transfer ? `/books/entries/${transfer.entry}` : null,
      items: [],
    },
    {
      sort: 'bank_line',
      count: bankLines.length,
      amount: bankLines.length > 0 ? sumMinor(bankLines, line => line.amount) : null,
      currency: key.currency,
      title: bankLine
        ? bankLines.length === 1
          ? `Bank line ${bankLine.id}`
          : `${bankLines.length} bank lines`
        : 'No bank line yet',
      detail: bankLine ? `${bankLine.date} ${bankLine.description}` : 'confirm its deposit on the bank’s page',
      link: transfer ? `/bank/${encodeURIComponent(transfer.bank_account)}` : null,
      items:
        bankLines.length < 2
          ? []
          : bankLines.map(line => ({
              title: line.id,
              detail: `${line.date} ${line.description}`,
              amount: line.amount,
              link: null,
            })),
    },
  ]
}
