import { mirrorLines, type NotTakenBack, whyNotTakenBack } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { keyRows, type SettlementKey, textOfKey } from '../activity/settlementKey.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadBookingDays } from '../ledger/bookingDay.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { storedEntryLine } from '../ledger/storedEntryLine.ts'
import type { NewEntry } from '../ledger/writeEntries.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'

/** Settlements that can be taken back, with the mirrors of their entries, and those that cannot. */
export interface Prepared {
  readonly client: ClientSetup
  readonly ready: readonly (SettlementKey & { generation: number })[]
  readonly reversals: readonly NewEntry[]
  readonly refused: TakeBackOutcome['refused']
}

/** Mirrors the entries of posted settlements, before any lock is taken. */
export const prepare = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<Prepared> => {
  const client = await loadSetup(tx)
  const states = await rowsOf(
    tx,
    { source: is.text, key: is.text, currency: is.text, state: is.text, generation: is.whole, paired: is.yes },
    sql`
    SELECT s.source, s.key, s.currency, s.state, s.generation,
      EXISTS (SELECT FROM transfer t WHERE t.source = s.source AND t.key = s.key AND t.currency = s.currency
        AND t.paired AND NOT t.reversed) AS paired
    FROM ${keyRows(keys)} JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
    WHERE s.client_id = current_client()`,
  )
  const byKey = new Map(states.map(row => [textOfKey(row), row]))
  const ready: (SettlementKey & { generation: number })[] = []
  const refused: { key: SettlementKey; reason: NotTakenBack }[] = []
  for (const key of keys) {
    const row = byKey.get(textOfKey(key))
    const reason = whyNotTakenBack(row)
    if (reason !== null) refused.push({ key, reason })
    else if (row) ready.push({ source: row.source, key: row.key, currency: row.currency, generation: row.generation })
  }
  const posted = ready.length === 0 ? [] : await loadPosted(tx, ready)
  const reversals: NewEntry[] = []
  const days = await loadBookingDays(tx)
  for (const entry of posted)
    reversals.push({
      date: days.dayFor(entry),
      document: 'reversal',
      source: entry.source,
      key: entry.key,
      generation: entry.generation,
      currency: entry.currency,
      payoutLine: entry.payout_line,
      memo: `reverses ${entry.memo}`,
      reverses: { fiscalYear: entry.fiscal_year, number: entry.number },
      lines: mirrorLines(entry.lines),
    })
  return { client, ready, reversals, refused }
}

const loadPosted = (tx: Transaction, ready: readonly SettlementKey[]) =>
  rowsOf(
    tx,
    {
      fiscal_year: is.whole,
      number: is.whole,
      date: is.date,
      generation: is.whole,
      memo: is.text,
      payout_line: is.maybe(is.text),
      lines: is.list(storedEntryLine),
      source: is.text,
      key: is.text,
      currency: is.text,
    },
    sql`
    SELECT e.source, e.key, e.currency, e.fiscal_year, e.number, e.date::text, e.generation, e.memo, e.payout_line,
      (SELECT json_agg(json_build_object('account', l.account, 'amount', l.amount, 'baseAmount', l.base_amount,
        'taxCode', l.tax_code, 'segments', l.segments, 'buckets', l.buckets, 'routes', l.routes) ORDER BY l.line_no)
        FROM entry_line l WHERE l.fiscal_year = e.fiscal_year AND l.number = e.number) AS lines
    FROM ${keyRows(ready)}
    JOIN settlement s ON s.source = k.source AND s.key = k.key AND s.currency = k.currency
    JOIN entry e ON e.source = k.source AND e.key = k.key AND e.currency = k.currency AND e.generation = s.generation
    WHERE e.client_id = current_client() AND s.client_id = current_client() AND NOT ${isDocument('mirrors')}
    ORDER BY e.date, e.fiscal_year, e.number`,
  )

/** What taking back came to. */
export interface TakeBackOutcome {
  readonly takenBack: readonly SettlementKey[]
  readonly entries: number
  readonly refused: readonly { readonly key: SettlementKey; readonly reason: NotTakenBack }[]
  /** What was not tried any more after something went wrong in the midst: what was taken back before stays so. */
  readonly brokenOff: { readonly left: number } | null
}
