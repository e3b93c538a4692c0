import { subjectKey } from '@culvert/contract'
import { mirrorLines } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { keyShape, type SettlementKey } from '../activity/settlementKey.ts'
import { recordAct } from '../acts/recordAct.ts'
import { recompose } from '../composing/recompose.ts'
import { tie } from '../composing/tieOut.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { holdSources } from '../database/locks.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdDays, loadBookingDays } from '../ledger/bookingDay.ts'
import { linesOfEntry, storedEntryLine } from '../ledger/storedEntryLine.ts'
import { countByFiscalYear, type NewEntry, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { type PaymentRef, textOfPayment } from './paymentDecisions.ts'

/**
 * Condition that decision `d` is of line `n`. What is attached is named by either of its sides: by its collection only as long as nothing of that
 * itself is decided, such as what the two differ by.
 */
const isNamed = sql`((d.source = n.source AND d.line_id = n."lineId") OR (d.other_source = n.source AND d.other_line = n."lineId"
  AND NOT EXISTS (SELECT FROM payment_decision x WHERE x.client_id = d.client_id AND x.source = n.source AND x.line_id = n."lineId"
    AND x.undone_by IS NULL)))`

/** What stands decided of these payments, with the entries that book it. */
const loadBooked = (tx: Transaction, of: readonly PaymentRef[]) =>
  rowsOf(
    tx,
    {
      source: is.text,
      lineId: is.text,
      attached: is.yes,
      fiscalYear: is.maybe(is.whole),
      number: is.maybe(is.whole),
      date: is.maybe(is.date),
      currency: is.maybe(is.text),
      memo: is.maybe(is.text),
      lines: is.maybe(is.list(storedEntryLine)),
    },
    sql`
    SELECT d.source, d.line_id AS "lineId", d.decision = 'attached' AS attached, d.fiscal_year AS "fiscalYear", d.number, e.date::text, e.currency, e.memo,
      ${linesOfEntry} AS lines
    FROM jsonb_to_recordset(${JSON.stringify(of)}::jsonb) AS n(source text, "lineId" text)
    JOIN payment_decision d ON d.client_id = current_client() AND ${isNamed} AND d.undone_by IS NULL
    LEFT JOIN entry e ON e.client_id = d.client_id AND e.fiscal_year = d.fiscal_year AND e.number = d.number
    ORDER BY d.source, d.line_id`,
  )

/**
 * Takes back what was decided of payments, in one act, all or none: entries are reversed on their day or the first open day after it, ties by hand
 * end, and the payments are on one side only again. @throws Refused where nothing stands decided of one of them
 */
export const undoPayments = (
  database: Database,
  actor: Actor,
  of: readonly PaymentRef[],
): Promise<{ undone: number; reversals: number }> =>
  retrying(() => asClient(database, actor, tx => undo(tx, actor, of)))

const undo = async (tx: Transaction, actor: Actor, asked: readonly PaymentRef[]) => {
  const of = [...new Map(asked.map(one => [textOfPayment(one), one])).values()]
  const client = await loadSetup(tx)
  const standing = await loadBooked(tx, of)
  if (standing.length < of.length) throw new Refused('nothing_decided')
  const reversals: NewEntry[] = []
  const days = await loadBookingDays(tx)
  for (const { fiscalYear, number, date, currency, memo, lines } of standing) {
    if (fiscalYear === null || number === null || date === null || currency === null || lines === null) continue
    reversals.push({
      document: 'reversal',
      source: null,
      key: null,
      generation: null,
      payoutLine: null,
      date: days.dayFor({ date, lines }),
      currency,
      memo: memo ?? '',
      reverses: { fiscalYear, number },
      lines: mirrorLines(lines),
    })
  }
  const attached = standing.some(one => one.attached)
  const firsts = await takeNumbers(tx, countByFiscalYear(reversals, client.fiscalStart))
  if (attached) await holdSources(tx, [...client.setup.sources.keys()], 'store')
  await holdDays(tx, reversals)
  const actId = await recordAct(tx, actor, {
    sort: 'undo_payments',
    note: `${of.length}`,
    touched: of.map(one => ({ subject: 'payment', key: subjectKey(one.source, one.lineId), after: { decided: null } })),
  })
  const undone = await rowsOf(
    tx,
    {},
    sql`UPDATE payment_decision d SET undone_by = ${actId}
      FROM jsonb_to_recordset(${JSON.stringify(of)}::jsonb) AS n(source text, "lineId" text)
      WHERE d.client_id = current_client() AND ${isNamed} AND d.undone_by IS NULL RETURNING d.number`,
  )
  if (undone.length < of.length) throw new Stale('somebody else was quicker')
  if (attached) await tie(tx)
  await writeEntries(tx, numberEntries(reversals, firsts, client.fiscalStart), actId)
  await recompose(tx, await touchedCollections(tx, of))
  await markStages(tx, ['settlements', 'mapping', 'payments', 'clearing', 'books'])
  return { undone: of.length, reversals: reversals.length }
}

/** Settlements of collections that were decided: an order that is open may hold them up again. */
const touchedCollections = (tx: Transaction, of: readonly PaymentRef[]): Promise<SettlementKey[]> =>
  rowsOf(
    tx,
    keyShape,
    sql`SELECT DISTINCT l.source, l.settlement_key AS key, l.currency FROM line_as_of l
      JOIN jsonb_to_recordset(${JSON.stringify(of)}::jsonb) AS n(source text, "lineId" text) ON n.source = l.source AND n."lineId" = l.line_id
      WHERE l.client_id = current_client() AND l.stands AND ${kindIs('collection')}`,
  )
