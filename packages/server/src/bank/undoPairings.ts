import { mirrorLines } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { inTransferOrder } from '../database/locks.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdDays, loadBookingDays } from '../ledger/bookingDay.ts'
import { storedEntryLine } from '../ledger/storedEntryLine.ts'
import { countByFiscalYear, type NewEntry, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { touchedByPairings } from './storePairings.ts'

interface Standing {
  readonly pairing_id: string
  readonly fiscal_year: number | null
  readonly number: number | null
  readonly date: string | null
  readonly currency: string | null
  readonly memo: string | null
  readonly lines: NewEntry['lines'] | null
}

/**
 * Takes decisions apart: their members are open again, and what they posted is reversed on its day, or the first open day. Returns how
 * many; those taken apart before count no more.
 */
export const undoPairings = (database: Database, actor: Actor, pairingIds: readonly string[]): Promise<number> =>
  retrying(() => asClient(database, actor, tx => undo(tx, actor, pairingIds)))

const undo = async (tx: Transaction, actor: Actor, pairingIds: readonly string[]): Promise<number> => {
  const { fiscalStart } = await loadSetup(tx)
  const standing = await rowsOf(
    tx,
    {
      pairing_id: is.text,
      fiscal_year: is.maybe(is.whole),
      number: is.maybe(is.whole),
      date: is.maybe(is.date),
      currency: is.maybe(is.text),
      memo: is.maybe(is.text),
      lines: is.maybe(is.list(storedEntryLine)),
    },
    sql`
    SELECT p.pairing_id, p.fiscal_year, p.number, e.date::text, e.currency, e.memo,
      (SELECT json_agg(json_build_object('account', l.account, 'amount', l.amount, 'baseAmount', l.base_amount,
        'taxCode', l.tax_code, 'segments', l.segments, 'buckets', l.buckets, 'routes', l.routes) ORDER BY l.line_no)
        FROM entry_line l WHERE l.client_id = p.client_id AND l.fiscal_year = p.fiscal_year AND l.number = p.number) AS lines
    FROM pairing p LEFT JOIN entry e USING (client_id, fiscal_year, number)
    WHERE p.client_id = current_client() AND p.undone_by IS NULL AND p.pairing_id = ANY(${sql.param([...pairingIds])}::text[])
    ORDER BY e.date, p.fiscal_year, p.number`,
  )
  if (standing.length === 0) return 0
  const reversals: NewEntry[] = []
  const days = await loadBookingDays(tx)
  for (const { fiscal_year: fiscalYear, number, date, currency, memo, lines } of standing)
    if (fiscalYear !== null && number !== null && date !== null && currency !== null)
      reversals.push({
        document: 'reversal',
        source: null,
        key: null,
        generation: null,
        payoutLine: null,
        date: days.dayFor({ date, lines: lines ?? [] }),
        currency,
        memo: memo ?? '',
        reverses: { fiscalYear, number },
        lines: mirrorLines(lines ?? []),
      })
  const firsts = await takeNumbers(tx, countByFiscalYear(reversals, fiscalStart))
  await holdDays(tx, reversals)
  const ids = sql.param(standing.map(row => row.pairing_id))
  await tx.execute(sql`SELECT FROM transfer t WHERE t.client_id = current_client() AND (t.source, t.payout_line, t.generation) IN (
      SELECT m.source, m.payout_line, m.generation FROM paired_transfer m WHERE m.client_id = current_client() AND m.active
        AND m.pairing_id = ANY(${ids}::text[]))
    ORDER BY ${inTransferOrder} FOR NO KEY UPDATE OF t`)
  const actId = await recordAct(tx, actor, {
    sort: 'undo_pairing',
    note: `${standing.length}`,
    touched: await touchedByPairings(
      tx,
      standing.map(row => row.pairing_id),
    ),
  })
  const undone = await rowsOf(
    tx,
    {},
    sql`UPDATE pairing SET undone_by = ${actId} WHERE client_id = current_client() AND undone_by IS NULL
      AND pairing_id = ANY(${ids}::text[]) RETURNING pairing_id`,
  )
  if (undone.length < standing.length) throw new Stale('somebody else was quicker')
  await writeEntries(tx, numberEntries(reversals, firsts, fiscalStart), actId)
  await reopen(tx, standing)
  await markStages(tx, ['bank', 'clearing', 'books'])
  return standing.length
}

const reopen = async (tx: Transaction, undone: readonly Standing[]): Promise<void> => {
  const ids = sql.param(undone.map(row => row.pairing_id))
  await tx.execute(sql`UPDATE transfer t SET paired = false FROM paired_transfer m
    WHERE t.client_id = current_client() AND m.client_id = t.client_id AND m.source = t.source AND m.payout_line = t.payout_line
      AND m.generation = t.generation AND m.active AND m.pairing_id = ANY(${ids}::text[])`)
  await tx.execute(sql`INSERT INTO open_bank_line (client_id, bank_account, line_id, date, amount)
    SELECT b.client_id, b.bank_account, b.line_id, b.date, b.amount FROM paired_bank_line m
    JOIN bank_line b USING (client_id, bank_account, line_id)
    WHERE m.client_id = current_client() AND m.active AND m.pairing_id = ANY(${ids}::text[]) ORDER BY b.line_id COLLATE "C"`)
  await tx.execute(
    sql`UPDATE paired_transfer SET active = false WHERE client_id = current_client() AND pairing_id = ANY(${ids}::text[])`,
  )
  await tx.execute(
    sql`UPDATE paired_bank_line SET active = false WHERE client_id = current_client() AND pairing_id = ANY(${ids}::text[])`,
  )
}
