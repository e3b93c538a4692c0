import type { BankItem, PairingFacts, TransferItem } from '@culvert/contract'
import { convertMinor, currencyDigits, rateOn } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { transferId } from '../ledger/transferId.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { boundElsewhere } from './boundElsewhere.ts'

/** A deposit comes within so many days of its payout. */
const windowDays = 7
const maxGroup = 12
/** By how much of the client's base currency, in whole units, a deposit may be short as a bank fee. */
const bankFeeUpTo = 5

/** The same in minor units of the account's currency at the newest rate; null where no rate is known: then none is sought. */
const bankFeeIn = (setup: ClientSetup['setup'], currency: string): number | null => {
  const limit = bankFeeUpTo * 10 ** currencyDigits(setup.base)
  if (currency === setup.base) return limit
  const rate = rateOn(setup.rates, { currency: setup.base, base: currency, date: '9999-12-31' })
  return rate && convertMinor(limit, rate, { currency: setup.base, base: currency })
}

export interface TransferRow {
  readonly source: string
  readonly payout_line: string
  readonly generation: number
  readonly key: string
  readonly currency: string
  readonly date: string
  readonly amount: number
  readonly reference: string | null
  readonly entry: string
}

export const transferColumns = sql`t.source, t.payout_line, t.generation, t.key, t.currency, t.date::text, t.amount, t.reference,
  t.fiscal_year || '-' || t.number AS entry`

const openTransfers = (tx: Transaction, account: string) =>
  rowsOf(
    tx,
    {
      source: is.text,
      payout_line: is.text,
      generation: is.whole,
      key: is.text,
      currency: is.text,
      date: is.date,
      amount: is.minor,
      reference: is.maybe(is.text),
      entry: is.text,
    },
    sql`SELECT ${transferColumns} FROM transfer t
    WHERE t.client_id = current_client() AND t.bank_account = ${account} AND NOT t.paired AND NOT t.reversed
    ORDER BY t.date, t.source, t.payout_line, t.generation`,
  )

const openLines = (tx: Transaction, account: string) =>
  rowsOf(
    tx,
    { id: is.text, date: is.date, amount: is.minor, currency: is.text, description: is.text, reference: is.text },
    sql`SELECT o.line_id AS id, o.date::text, o.amount, b.currency, b.description, b.reference
    FROM open_bank_line o JOIN bank_line b USING (client_id, bank_account, line_id)
    WHERE o.client_id = current_client() AND o.bank_account = ${account} ORDER BY o.date, o.line_id`,
  )

interface Reach {
  readonly source: string | null
  readonly name: string
  readonly to: string | null
}

/**
 * Until when both sides are known: how far the statement tells, and each source that uses the account is pulled. A source that was never asked, and
 * reported nothing, leaves it open.
 */
const loadReach = (tx: Transaction, account: string): Promise<Reach[]> =>
  rowsOf(
    tx,
    { source: is.maybe(is.text), name: is.text, to: is.maybe(is.text) },
    sql`
    SELECT NULL AS source, '' AS name,
      (SELECT read_to::text FROM bank_reach WHERE client_id = current_client() AND bank_account = ${account}) AS "to"
    UNION ALL
    (SELECT s.source, s.name, (greatest(s.pulled_to, s.read_to) AT TIME ZONE c.time_zone)::date::text
      FROM source s JOIN client c ON c.client_id = s.client_id
      WHERE s.client_id = current_client() AND EXISTS (SELECT FROM source_bank k WHERE k.client_id = s.client_id
        AND k.source = s.source AND k.account = ${account})
      ORDER BY s.name)`,
  )

const leastOf = (reach: readonly Reach[]): string | null =>
  reach.reduce<string | null>(
    (least, { to }) => (least === null || to === null ? null : to < least ? to : least),
    '9999-12-31',
  )

/** Days that each source's last confirmed deposits took, but for the quickest and slowest twentieth. */
const usualLags = async (tx: Transaction, account: string) => {
  const rows = await rowsOf(
    tx,
    { source: is.text, from: is.whole, to: is.whole },
    sql`
    SELECT source, percentile_disc(0.05) WITHIN GROUP (ORDER BY lag) AS "from", percentile_disc(0.95) WITHIN GROUP (ORDER BY lag) AS "to"
    FROM (SELECT t.source, (SELECT max(b.date) FROM paired_bank_line pb JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE pb.client_id = pt.client_id AND pb.pairing_id = pt.pairing_id) - t.date AS lag
      FROM (SELECT * FROM transfer WHERE client_id = current_client() AND bank_account = ${account} AND paired
        ORDER BY date DESC LIMIT 300) t
      JOIN paired_transfer pt USING (client_id, source, payout_line, generation) WHERE pt.active) l
    WHERE lag IS NOT NULL GROUP BY source`,
  )
  return new Map(rows.map(({ source, ...lag }) => [source, lag]))
}

/** What is open on a bank account, and what the engine has to know to pair it. */
export interface OpenItems {
  readonly transfers: TransferItem[]
  readonly lines: BankItem[]
  readonly facts: PairingFacts
  readonly known: { readonly statementTo: string | null; readonly booksTo: string | null }
  readonly sourceNames: ReadonlyMap<string, string>
}

export const loadOpenItems = async (tx: Transaction, code: string): Promise<OpenItems> => {
  const { sourceNames, setup } = await loadSetup(tx)
  const reach = await loadReach(tx, code)
  const booksReach = reach.filter(one => one.source !== null)
  const known = {
    statementTo: reach.find(one => one.source === null)?.to ?? null,
    booksTo: booksReach.length === 0 ? null : leastOf(booksReach),
  }
  const account = setup.accounts.get(code)
  const transfers = (await openTransfers(tx, code)).map(row => transferItem(row, sourceNames))
  const lines = await openLines(tx, code)
  return {
    transfers,
    lines,
    known,
    sourceNames,
    facts: {
      windowDays,
      maxGroup,
      bankFeeUpTo: bankFeeIn(setup, account?.currency ?? setup.base),
      bankTexts: [...setup.sources.values()]
        .filter(source => [...source.paysInto, ...source.drawnFrom].some(row => row.account === code))
        .map(source => [source.key, [...source.bankTexts]]),
      ...(await boundElsewhere(tx, code, { transfers, lines })),
      usualLags: [...(await usualLags(tx, code))],
      doubtReferences: true,
      reach,
      completeTo: leastOf(reach) ?? '1000-01-01',
    },
  }
}

export const transferItem = (row: TransferRow, sourceNames: ReadonlyMap<string, string>): TransferItem => ({
  id: transferId(row),
  source: row.source,
  sourceName: sourceNames.get(row.source) ?? row.source,
  key: row.key,
  currency: row.currency,
  date: row.date,
  amount: row.amount,
  reference: row.reference,
  entry: row.entry,
})
