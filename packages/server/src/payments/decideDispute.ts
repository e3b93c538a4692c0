import type { decideDisputeBody } from '@culvert/contract'
import { subjectKey } from '@culvert/contract'
import { composeDispute, mirrorLines } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { holdSettlements } from '../activity/settlementKey.ts'
import { loadSupplies } from '../activity/supplies.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdDays, loadBookingDays } from '../ledger/bookingDay.ts'
import { linesOfEntry, storedEntryLine } from '../ledger/storedEntryLine.ts'
import { countByFiscalYear, type NewEntry, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadDisputes } from './disputes.ts'

const openStates = new Set(['open'])

/**
 * Decides a disputed payment: written off to a cost, or credited like a refund of its sale, against the account of disputed payments, dated the day it
 * was decided. @throws Refused where it is not open, or cannot be booked
 */
export const decideDispute = (
  database: Database,
  actor: Actor,
  wanted: z.output<typeof decideDisputeBody>,
): Promise<void> => retrying(() => asClient(database, actor, tx => decide(tx, actor, wanted)))

const decide = async (tx: Transaction, actor: Actor, wanted: z.output<typeof decideDisputeBody>): Promise<void> => {
  const [dispute] = await loadDisputes(tx, wanted)
  if (!dispute) throw new Refused('chargeback_unknown')
  const { row, line } = dispute
  if (!openStates.has(row.state) || row.account === null) throw new Refused('chargeback_not_open', { state: row.state })
  if (wanted.date < row.date) throw new Refused('decided_too_early', { since: row.date })
  // What is decided now is booked by the map of now.
  const client = await loadSetup(tx)
  const supplies = await loadSupplies(tx, client, [], 'now', {
    source: line.source,
    lineId: line.relatedId,
    orderId: line.orderId,
  })
  const composed = composeDispute(line, wanted.decision, {
    setup: client.setup,
    book: supplies.book,
    disputed: row.account,
    date: wanted.date,
    left: row.left,
  })
  const [block] = composed.blocks
  if (block) throw new Refused('dispute_not_bookable', { reason: block.reason })
  const days = await loadBookingDays(tx)
  const entries = composed.entries.map(
    (entry): NewEntry => ({
      date: days.dayFor(entry),
      document: 'decision',
      source: null,
      key: null,
      generation: null,
      currency: entry.currency,
      payoutLine: null,
      memo: `chargeback ${line.lineId}${line.orderId ? `, order ${line.orderId}` : ''}`,
      reverses: null,
      lines: entry.lines.map(one => ({ ...one, buckets: [], routes: [] })),
    }),
  )
  const [first] = entries
  if (!first || entries.length !== 1) throw new Refused('nothing_left')
  const firsts = await takeNumbers(tx, countByFiscalYear(entries, client.fiscalStart))
  const [source] = await holdSources(tx, [row.source], 'read')
  await holdDays(tx, entries)
  const [held] = await holdSettlements(tx, [{ source: row.source, key: row.settlement, currency: row.currency }])
  // Looked at again under the locks: a reversal, a take-back or another decision may have come.
  const [again] = await loadDisputes(tx, wanted)
  if (
    !source ||
    !held ||
    again?.row.state !== row.state ||
    again.row.left !== row.left ||
    again.row.account !== row.account
  )
    throw new Stale('something of it changed meanwhile')
  const actId = await recordAct(tx, actor, {
    sort: 'decide_dispute',
    note: `${row.lineId}: ${wanted.decision.as}`,
    touched: [
      {
        subject: 'payment',
        key: subjectKey(row.source, row.lineId),
        before: { dispute: row.state },
        after: { dispute: wanted.decision.as, ...(wanted.note ? { note: wanted.note } : {}) },
      },
    ],
  })
  const [entry] = numberEntries(entries, firsts, client.fiscalStart)
  if (!entry) throw new Error('an entry was composed and none was numbered')
  await writeEntries(tx, [entry], actId)
  await tx.execute(sql`INSERT INTO dispute_decision (client_id, fiscal_year, number, source, line_id, decision, note, act_id)
    VALUES (current_client(), ${entry.fiscalYear}, ${entry.number}, ${row.source}, ${row.lineId}, ${wanted.decision.as}, ${wanted.note}, ${actId})`)
  await markStages(tx, ['payments', 'clearing', 'books'])
}

/** Takes a decision back: its entry is reversed, and the payment is disputed again. @throws Refused where nothing was decided */
export const undoDispute = (
  database: Database,
  actor: Actor,
  of: { readonly source: string; readonly lineId: string },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const client = await loadSetup(tx)
      const [standing] = await rowsOf(
        tx,
        {
          fiscalYear: is.whole,
          number: is.whole,
          date: is.date,
          currency: is.text,
          memo: is.text,
          lines: is.list(storedEntryLine),
        },
        sql`SELECT d.fiscal_year AS "fiscalYear", d.number, e.date::text, e.currency, e.memo,
          ${linesOfEntry} AS lines
        FROM dispute_decision d JOIN entry e USING (client_id, fiscal_year, number)
        WHERE d.client_id = current_client() AND d.source = ${of.source} AND d.line_id = ${of.lineId} AND d.undone_by IS NULL`,
      )
      if (!standing) throw new Refused('nothing_decided')
      const reversal: NewEntry = {
        document: 'reversal',
        source: null,
        key: null,
        generation: null,
        payoutLine: null,
        date: (await loadBookingDays(tx)).dayFor(standing),
        currency: standing.currency,
        memo: standing.memo,
        reverses: { fiscalYear: standing.fiscalYear, number: standing.number },
        lines: mirrorLines(standing.lines),
      }
      const firsts = await takeNumbers(tx, countByFiscalYear([reversal], client.fiscalStart))
      await holdDays(tx, [reversal])
      const actId = await recordAct(tx, actor, {
        sort: 'undo_dispute',
        note: of.lineId,
        touched: [{ subject: 'payment', key: subjectKey(of.source, of.lineId), after: { dispute: null } }],
      })
      const undone = await rowsOf(
        tx,
        {},
        sql`UPDATE dispute_decision SET undone_by = ${actId} WHERE client_id = current_client() AND fiscal_year = ${standing.fiscalYear}
          AND number = ${standing.number} AND undone_by IS NULL RETURNING number`,
      )
      if (undone.length === 0) throw new Stale('somebody else was quicker')
      await writeEntries(tx, numberEntries([reversal], firsts, client.fiscalStart), actId)
      await markStages(tx, ['payments', 'clearing', 'books'])
    }),
  )
