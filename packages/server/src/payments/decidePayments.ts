import { createHash } from 'node:crypto'
import type { decidePaymentsBody, PaymentDecision } from '@culvert/contract'
import { subjectKey } from '@culvert/contract'
import { decidedLine, decisionsOn, isTender, type OneSidedItem } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { compareKeys, holdSettlements, textOfKey } from '../activity/settlementKey.ts'
import { recordAct } from '../acts/recordAct.ts'
import { heldBy, recompose } from '../composing/recompose.ts'
import { tie } from '../composing/tieOut.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying, Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdDays, loadBookingDays } from '../ledger/bookingDay.ts'
import {
  countByFiscalYear,
  type NewEntry,
  type NumberedEntry,
  numberEntries,
  takeNumbers,
  writeEntries,
} from '../ledger/writeEntries.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { composePayment } from './composePayment.ts'
import { type Held, loadHeld } from './heldMoney.ts'
import { loadOneSided } from './oneSidedPayments.ts'
import { type PaymentRef, textOfPayment } from './paymentDecisions.ts'

type Wanted = z.output<typeof decidePaymentsBody>['decisions'][number]

/** A decision that can be done: of which payment, and what is booked of it. */
interface Ready {
  readonly item: OneSidedItem
  readonly of: PaymentRef
  readonly held: Held
  readonly decision: PaymentDecision
  readonly note: string
  readonly entry: NewEntry | null
  /** Tender and collection that become one. */
  readonly ties: { readonly tender: PaymentRef; readonly collection: PaymentRef } | null
}

export interface DecidedPayments {
  readonly decided: number
  readonly entries: readonly Pick<NumberedEntry, 'fiscalYear' | 'number' | 'date'>[]
}

/**
 * Decides one-sided payments in one act, all of them or none: entries are dated today, or the first open day after it, and name the line that
 * they decide. @throws Refused
 */
export const decidePayments = (
  database: Database,
  actor: Actor,
  wanted: readonly Wanted[],
  consent?: Consent,
): Promise<DecidedPayments> => retrying(() => asClient(database, actor, tx => decide(tx, actor, { wanted, consent })))

/** That somebody consented to: what each decision must come to still, and what says so in the transaction that does it. */
interface Consent {
  readonly bound: ReadonlyMap<string, string>
  readonly mark: (tx: Transaction) => Promise<void>
}

/** What each decision comes to, digested, by its payment. The day is left out: it is the day on which it is decided. @throws Refused */
export const digestDecisions = async (
  tx: Transaction,
  wanted: readonly Wanted[],
): Promise<ReadonlyMap<string, string>> => digestsOf(await prepare(tx, await loadSetup(tx), wanted))

const digestsOf = (ready: readonly Ready[]): ReadonlyMap<string, string> =>
  new Map(
    ready.map(({ item, of, held, decision, note, entry, ties }) => {
      const what = [decision, note, item.amount, held.account?.account, entry && { ...entry, date: '' }, ties]
      return [textOfPayment(of), createHash('sha256').update(JSON.stringify(what)).digest('hex')]
    }),
  )

const isBound = (ready: readonly Ready[], { bound }: Consent): boolean => {
  const now = digestsOf(ready)
  return now.size === bound.size && [...now].every(([payment, digest]) => bound.get(payment) === digest)
}

const decide = async (
  tx: Transaction,
  actor: Actor,
  { wanted, consent }: { readonly wanted: readonly Wanted[]; readonly consent: Consent | undefined },
): Promise<DecidedPayments> => {
  const client = await loadSetup(tx)
  const ready = await prepare(tx, client, wanted)
  const drafts = ready.flatMap(one => one.entry ?? [])
  const attaches = ready.some(one => one.ties !== null)
  const firsts = await takeNumbers(tx, countByFiscalYear(drafts, client.fiscalStart))
  await hold(tx, client, ready, attaches)
  await holdDays(tx, drafts)
  // With all sources held nothing is posted or taken back meanwhile; matching holds the settlements that it touches itself.
  if (!attaches) await holdSettlements(tx, settlementsOf(ready))
  // Looked at again under the locks.
  const again = await prepare(tx, client, wanted)
  if (!ready.every((one, place) => isSame(one, again[place]))) throw new Stale('something of it changed meanwhile')
  if (consent && !isBound(ready, consent)) throw new Refused('consent_moved')
  const actId = await recordAct(tx, actor, {
    sort: 'decide_payments',
    note: `${ready.length}`,
    touched: ready.map(({ of, decision, note }) => ({
      subject: 'payment',
      key: subjectKey(of.source, of.lineId),
      after: { decided: decision.as, ...(note ? { note } : {}) },
    })),
  })
  const numbered = numberEntries(drafts, firsts, client.fiscalStart)
  if (attaches) {
    await writeDecisions(
      tx,
      actId,
      ready.filter(one => one.ties),
      [],
    )
    await tie(tx)
    await checkTied(tx, ready)
  }
  await writeEntries(tx, numbered, actId)
  await writeDecisions(
    tx,
    actId,
    ready.filter(one => !one.ties),
    numbered,
  )
  // What an open order held up may be booked once somebody has decided.
  await recompose(tx, await heldBy(tx, 'order_open'))
  await consent?.mark(tx)
  await markStages(tx, ['settlements', 'mapping', 'payments', 'clearing', 'books'])
  return {
    decided: ready.length,
    entries: numbered.map(({ fiscalYear, number, date }) => ({ fiscalYear, number, date })),
  }
}

const prepare = async (tx: Transaction, client: ClientSetup, wanted: readonly Wanted[]): Promise<Ready[]> => {
  const view = await loadOneSided(tx, client)
  const byLine = new Map(view.items.map(item => [textOfPayment(decidedLine(item)), item]))
  const held = await loadHeld(tx, client, view.items)
  const days = await loadBookingDays(tx)
  const taken = new Set<string>()
  const ready: Ready[] = []
  for (const { of, amount, decision, note } of wanted) {
    const item = byLine.get(textOfPayment(of))
    const place = held.get(textOfPayment(of))
    if (!item || !place) throw new Refused('payment_not_open', { line: of.lineId })
    if (item.amount !== amount) throw new Refused('payment_changed', { line: of.lineId })
    if (!decisionsOn(item, view.mayWriteOff).includes(decision.as))
      throw new Refused(
        decision.as === 'written_off' || decision.as === 'price_reduction'
          ? 'beyond_write_off'
          : 'decision_not_offered',
        { line: of.lineId },
      )
    // Without a route there is nothing that it could be booked as.
    if (decision.as === 'as_routed' && !place.routed) throw new Refused('not_routed', { line: of.lineId })
    if (decision.as === 'set_aside' && note === '') throw new Refused('reason_missing')
    if (decision.as === 'waits' && decision.until <= view.today) throw new Refused('waits_for_the_past')
    const ties = decision.as === 'attached' ? tiesOf(item, decision.to, view.items) : null
    const lines = ties ? [ties.tender, ties.collection] : [of]
    for (const line of lines.map(textOfPayment)) {
      if (taken.has(line)) throw new Refused('decided_twice', { line: of.lineId })
      taken.add(line)
    }
    ready.push({
      item,
      of: ties?.tender ?? of,
      held: place,
      decision,
      note,
      entry: await composePayment(tx, client, { item, held: place, decision, date: view.today, days }),
      ties,
    })
  }
  return ready
}

const tiesOf = (item: OneSidedItem, to: PaymentRef, items: readonly OneSidedItem[]): NonNullable<Ready['ties']> => {
  const mine = { source: item.line.source, lineId: item.line.lineId }
  // Also one that is not shown as a candidate: who attaches it may know more than the lines say.
  const other = items.find(one => one.other === null && textOfPayment(one.line) === textOfPayment(to))
  const fits =
    other &&
    other.gateway === item.gateway &&
    other.line.currency === item.line.currency &&
    isTender(other.line.kind) !== isTender(item.line.kind) &&
    Math.sign(other.amount) === Math.sign(item.amount)
  if (!fits) throw new Refused('not_attachable', { line: to.lineId })
  return isTender(item.line.kind) ? { tender: mine, collection: to } : { tender: to, collection: mine }
}

const hold = async (
  tx: Transaction,
  client: ClientSetup,
  ready: readonly Ready[],
  attaches: boolean,
): Promise<void> => {
  if (attaches) await holdSources(tx, [...client.setup.sources.keys()], 'store')
  else
    await holdSources(
      tx,
      ready.flatMap(one => [one.of.source, one.held.settlement.source]),
      'read',
    )
}

const settlementsOf = (ready: readonly Ready[]) =>
  [
    ...new Map(
      ready.filter(one => one.entry).map(one => [textOfKey(one.held.settlement), one.held.settlement]),
    ).values(),
  ].sort(compareKeys)

const isSame = (one: Ready, again: Ready | undefined): boolean =>
  again !== undefined &&
  one.item.amount === again.item.amount &&
  one.held.account?.account === again.held.account?.account &&
  JSON.stringify(one.entry) === JSON.stringify(again.entry)

const writeDecisions = async (
  tx: Transaction,
  actId: string,
  ready: readonly Ready[],
  numbered: readonly NumberedEntry[],
): Promise<void> => {
  const entries = [...numbered]
  const rows = ready.map(({ item, of, decision, note, entry, ties }) => {
    const made = entry ? entries.shift() : undefined
    return {
      source: of.source,
      line: of.lineId,
      decision: decision.as,
      amount: item.amount,
      other_source: ties?.collection.source ?? null,
      other_line: ties?.collection.lineId ?? null,
      until: decision.as === 'waits' ? decision.until : null,
      account: 'account' in decision ? decision.account : null,
      tax_code: 'taxCode' in decision ? decision.taxCode : null,
      fiscal_year: made?.fiscalYear ?? null,
      number: made?.number ?? null,
      note,
    }
  })
  // What has waited long enough gives way; all else that stands was refused above.
  await tx.execute(sql`UPDATE payment_decision d SET undone_by = ${actId}
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS n(source text, line text)
    WHERE d.client_id = current_client() AND d.source = n.source AND d.line_id = n.line AND d.undone_by IS NULL AND d.decision = 'waits'`)
  await tx.execute(sql`
    INSERT INTO payment_decision (client_id, act_id, source, line_id, decision, amount, other_source, other_line, "until", account, tax_code,
      fiscal_year, number, note)
    SELECT current_client(), ${actId}, n.source, n.line, n.decision, n.amount, n.other_source, n.other_line, n."until", n.account, n.tax_code,
      n.fiscal_year, n.number, n.note
    FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS n(source text, line text, decision text, amount bigint, other_source text,
      other_line text, "until" date, account text, tax_code text, fiscal_year int, number int, note text)
    ORDER BY n.source, n.line`)
}

/** What was attached is a match now; a gateway without a clearing account matches nothing, and then nothing is decided. */
const checkTied = async (tx: Transaction, ready: readonly Ready[]): Promise<void> => {
  const ties = ready.flatMap(one => one.ties ?? [])
  const tied = await rowsOf(
    tx,
    { lineId: is.text },
    sql`SELECT n.line AS "lineId" FROM jsonb_to_recordset(${JSON.stringify(ties.map(({ tender }) => ({ source: tender.source, line: tender.lineId })))}::jsonb)
        AS n(source text, line text)
      WHERE NOT EXISTS (SELECT FROM tender_match m WHERE m.client_id = current_client() AND m.channel = n.source AND m.tender_line = n.line
        AND m.to_pull IS NULL AND m."by" = 'by_hand')`,
  )
  const [missing] = tied
  if (missing) throw new Refused('not_attachable', { line: missing.lineId })
}
