import type { DraftEntryBody, SettlementPage } from '@culvert/contract'
import { composeSettlement, type DraftEntry, type Setup, statementRows } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { postedAs } from '../activity/postedAs.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { isBooked } from '../activity/storedLines.ts'
import { channelsOf } from '../composing/awaitsChannel.ts'
import { loadActivity } from '../composing/loadActivity.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { named, placeOf, settlementColumns, settlementShape } from './listSettlements.ts'

/** A settlement with its statement and entry side by side; as posted, or as it would be. Null if there is none. */
export const loadSettlement = async (tx: Transaction, key: SettlementKey): Promise<SettlementPage | null> => {
  const [row] = await rowsOf(
    tx,
    {
      ...settlementShape,
      openingBalance: is.maybe(is.minor),
      closingBalance: is.maybe(is.minor),
      payoutReference: is.maybe(is.text),
      generation: is.whole,
      orders: is.whole,
    },
    sql`
    SELECT ${settlementColumns}, s.opening_balance AS "openingBalance", s.closing_balance AS "closingBalance",
      s.payout_reference AS "payoutReference", s.generation,
      (SELECT count(DISTINCT l.order_id)::int FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source
        AND l.settlement_key = s.key AND l.currency = s.currency AND ${isBooked}) AS orders
    FROM settlement s JOIN source f USING (client_id, source)
    WHERE s.client_id = current_client() AND s.source = ${key.source} AND s.key = ${key.key} AND s.currency = ${key.currency}`,
  )
  if (!row) return null
  const posted = await postedAs(tx, key)
  const client = await loadSetup(tx, posted?.mapVersion ?? null)
  const [loaded] = await loadActivity(tx, client, { keys: [key], asOf: posted?.pullNo ?? 'now', also: ['category'] })
  if (!loaded) return null
  const composed = composeSettlement(loaded.activity, client.setup)
  const earlier = await loadEarlier(tx, key)
  const entries = posted
    ? await loadPostedEntries(tx, key, row.generation)
    : composed.entries.map(entry => draftBody(entry, client.setup))
  return {
    ...named(row),
    base: client.base,
    statement: statementRows(loaded, composed, entries),
    entries: entries.map(withoutBuckets),
    earlier: earlier.filter(entry => !posted || entry.generation !== row.generation || entry.document === 'reversal'),
    channels: row.blocks.length > 0 ? await channelsOf(tx, client, key.source) : [],
    place: await placeOf(tx, { ...key, entryDate: row.entryDate }),
    correctionLines: row.corrections > 0 && posted ? await loadCorrectionLines(tx, key, posted.pullNo) : [],
  }
}

/** Entries with the buckets that each line was made of: what ties it to the statement's figures. */
type EntryWithBuckets = Omit<DraftEntryBody, 'lines'> & {
  readonly lines: readonly (DraftEntryBody['lines'][number] & { readonly buckets: readonly string[] })[]
}

const withoutBuckets = ({ lines, ...entry }: EntryWithBuckets): DraftEntryBody => ({
  ...entry,
  lines: lines.map(({ buckets: _, ...line }) => line),
})

const draftBody = (entry: DraftEntry, setup: Setup): EntryWithBuckets => ({
  document: entry.document,
  date: entry.date,
  currency: entry.currency,
  number: null,
  lines: entry.lines.map(line => ({
    account: line.account,
    accountName: setup.accounts.get(line.account)?.name ?? '',
    taxCode: line.taxCode,
    segments: line.segments,
    amount: line.amount,
    baseAmount: line.baseAmount,
    buckets: line.buckets,
  })),
})

const loadPostedEntries = (tx: Transaction, key: SettlementKey, generation: number) =>
  rowsOf(
    tx,
    {
      number: is.maybe(is.text),
      date: is.date,
      currency: is.text,
      document: is.text,
      lines: is.list(
        is.record({
          account: is.text,
          accountName: is.text,
          taxCode: is.text,
          segments: is.text,
          amount: is.minor,
          baseAmount: is.minor,
          buckets: is.list(is.text),
        }),
      ),
    },
    sql`
    SELECT e.document, e.date::text, e.currency, e.fiscal_year || '-' || e.number AS number,
      (SELECT json_agg(json_build_object('account', l.account, 'accountName', a.name, 'taxCode', l.tax_code, 'segments', l.segments,
        'amount', l.amount, 'baseAmount', l.base_amount, 'buckets', l.buckets) ORDER BY l.line_no)
        FROM entry_line l JOIN account a ON a.client_id = l.client_id AND a.code = l.account
        WHERE l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number) AS lines
    FROM entry e WHERE e.client_id = current_client() AND e.source = ${key.source} AND e.key = ${key.key}
      AND e.currency = ${key.currency} AND e.generation = ${generation} AND NOT ${isDocument('mirrors')}
    ORDER BY array_position(ARRAY['journal', 'correction', 'transfer'], e.document), e.date, e.number`,
  )

const loadEarlier = (tx: Transaction, key: SettlementKey) =>
  rowsOf(
    tx,
    { number: is.text, document: is.text, date: is.date, generation: is.whole },
    sql`
    SELECT e.fiscal_year || '-' || e.number AS number, e.document, e.date::text, e.generation FROM entry e
    WHERE e.client_id = current_client() AND e.source = ${key.source} AND e.key = ${key.key} AND e.currency = ${key.currency}
    ORDER BY e.fiscal_year, e.number`,
  )

const loadCorrectionLines = (tx: Transaction, key: SettlementKey, pullNo: number) =>
  rowsOf(
    tx,
    { lineId: is.text, kind: is.kind, before: is.maybe(is.whole), after: is.whole },
    sql`
    SELECT l.line_id AS "lineId", l.kind, (SELECT o.amount FROM line_as_of o WHERE o.client_id = l.client_id
      AND o.source = l.source AND o.line_id = l.line_id AND o.pull_no <= ${pullNo} ORDER BY o.revision DESC LIMIT 1) AS before,
      l.amount AS after
    FROM line_as_of l WHERE l.client_id = current_client() AND l.source = ${key.source} AND l.settlement_key = ${key.key}
      AND l.currency = ${key.currency} AND l.pull_no > ${pullNo} AND ${isBooked}
      AND l.stands
    ORDER BY l.line_id LIMIT 200`,
  )
