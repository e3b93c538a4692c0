import { sql } from 'drizzle-orm'
import { textOfKey } from '../activity/settlementKey.ts'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import type { NumberedEntry } from '../ledger/writeEntries.ts'
import type { Prepared } from './preparePosting.ts'

/** Rows of the payouts that entries book: bank account, amount in minor units, date, reference. */
export const transferRows = (entries: readonly NumberedEntry[], { client, ready }: Prepared) => {
  const references = new Map(
    ready.map(({ loaded }) => [textOfKey(loaded.key), loaded.activity.head?.payoutReference ?? null]),
  )
  return entries.flatMap(entry => {
    if (entry.document !== 'transfer' || entry.source === null || entry.key === null) return []
    const clearing = client.setup.sources.get(entry.source)?.clearing[entry.currency]
    const bank = entry.lines.find(line => line.account !== clearing && line.amount !== 0)
    if (!bank) return []
    return [
      {
        source: entry.source,
        payout_line: entry.payoutLine,
        generation: entry.generation,
        key: entry.key,
        currency: entry.currency,
        bank_account: bank.account,
        date: entry.date,
        amount: bank.amount,
        reference: references.get(textOfKey({ source: entry.source, key: entry.key, currency: entry.currency })),
        fiscal_year: entry.fiscalYear,
        number: entry.number,
      },
    ]
  })
}

/** Stores payouts as open transfers. */
export const insertTransfers = async (tx: Transaction, rows: ReturnType<typeof transferRows>): Promise<void> => {
  if (rows.length === 0) return
  await rowsOfPrepared(
    tx,
    {},
    sql`
    INSERT INTO transfer (client_id, source, payout_line, generation, key, currency, bank_account, date, amount, reference,
      fiscal_year, number)
    SELECT current_client(), t.* FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS t(source text, payout_line text,
      generation int, key text, currency char(3), bank_account text, date date, amount bigint, reference text,
      fiscal_year int, number int)`,
  )
}
