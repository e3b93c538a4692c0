import { type SQL, sql } from 'drizzle-orm'
import { type ClearingAccount, namesOf, type SourceOnAccount } from '../activity/clearingAccounts.ts'
import { isBooked, isMatched, movesClearing, revisionAsOf } from '../activity/storedLines.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { kindIs, kindIsNot } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { lateSources } from './proofRows.ts'

/** What a client has at all of what most have none of: planning how it would be found takes longer than all else. */
export interface Corrected {
  /** Lines of posted settlements that came back changed. */
  readonly waiting: boolean
  /** Corrections in the books. */
  readonly booked: boolean
  /** Decisions on one-sided payments in the books. */
  readonly decided: boolean
  /** Settlements of the account's own sources that stand across the date. */
  readonly across: boolean
}

export const loadCorrected = (tx: Transaction, clearing: ClearingAccount, date: string): Promise<Corrected> =>
  oneRow(
    tx,
    { waiting: is.yes, booked: is.yes, decided: is.yes, across: is.yes },
    sql`SELECT EXISTS (SELECT FROM settlement WHERE client_id = current_client() AND state = 'posted' AND currency = ${clearing.currency} AND corrections > 0) AS waiting,
      EXISTS (SELECT FROM correction WHERE client_id = current_client()) AS booked,
      EXISTS (SELECT FROM payment_decision WHERE client_id = current_client() AND number IS NOT NULL) AS decided,
      EXISTS (SELECT FROM settlement s WHERE ${standsAcross(clearing, date)}) AS across`,
  )

/**
 * Rows `slot(as_of, sign, booked_on)` of settlement `s`: what its posting holds, as of its pull, and what each correction changed: its lines
 * as of that pull less those of the one before, on the correction's date. Null dates: the date is the line's own entry's.
 */
const slots = ({ booked }: Corrected): SQL => sql`
  LATERAL (
    SELECT 2147483647 AS as_of, 1 AS sign, NULL::date AS booked_on WHERE s.state <> 'posted'
    UNION ALL
    SELECT p.pull_no, 1, NULL FROM posting p WHERE s.state = 'posted' AND p.client_id = s.client_id AND p.source = s.source AND p.key = s.key
      AND p.currency = s.currency AND p.generation = s.generation
    ${booked ? correctionSlots : sql``}
  ) slot`

const correctionSlots = sql`
    UNION ALL
    SELECT CASE sides.sign WHEN 1 THEN c.pull_no ELSE c.before END, sides.sign, c.date
    FROM (
      SELECT c.pull_no, (SELECT min(e.date) FROM entry e WHERE e.client_id = c.client_id AND e.act_id = c.act_id
          AND e.document = 'correction' AND e.source = c.source AND e.key = c.key AND e.currency = c.currency) AS date,
        coalesce(lag(c.pull_no) OVER (ORDER BY c.pull_no), (SELECT p.pull_no FROM posting p WHERE p.client_id = c.client_id
          AND p.source = c.source AND p.key = c.key AND p.currency = c.currency AND p.generation = c.generation)) AS before
      FROM correction c WHERE s.state = 'posted' AND c.client_id = s.client_id AND c.source = s.source AND c.key = s.key AND c.currency = s.currency
        AND c.generation = s.generation) c
    CROSS JOIN (VALUES (1), (-1)) sides(sign)`

/** Date of the last of a posted settlement's journals; where it has none, of what it was composed to. */
const journalEnd = sql`(SELECT coalesce((SELECT max(e.date) FROM entry e WHERE e.client_id = s.client_id AND e.source = s.source
  AND e.key = s.key AND e.currency = s.currency AND e.generation = s.generation AND e.document = 'journal'), s.entry_date) AS last)`

/** First day of settlement `s`'s source in these books; null where there is none. */
const bookedFrom = sql`(SELECT (f.options->>'bookedFrom')::date FROM source f WHERE f.client_id = s.client_id AND f.source = s.source)`

/** Condition that settlement `s` waits to be booked: neither posted nor booked elsewhere. */
const notYet = sql`s.state NOT IN ('posted', 'elsewhere')`

/** Date of the entry that holds line `l` of settlement `s`: with a split at month's end, that of its month. */
const bookedOn = (split: readonly SourceOnAccount[] | null): SQL => {
  const splits =
    split === null
      ? sql`EXISTS (SELECT FROM source f WHERE f.client_id = s.client_id AND f.source = s.source AND f.options->>'splitAtMonthEnd' = 'true')`
      : sql`s.source = ANY(${namesOf(split.filter(one => one.splitAtMonthEnd))}::text[])`
  // What is booked elsewhere stood in the former books at the end of the day before the first one here.
  return sql`CASE WHEN s.state = 'elsewhere' THEN ${bookedFrom} - 1 WHEN s.state <> 'posted' THEN NULL WHEN slot.booked_on IS NOT NULL THEN slot.booked_on
    WHEN ${splits} AND date_trunc('month', l.local_date) < date_trunc('month', journal.last)
    THEN least(greatest((date_trunc('month', l.local_date) + interval '1 month - 1 day')::date, ${bookedFrom}), journal.last) ELSE journal.last END`
}

/** Date that the entry which holds line `l` of a posted settlement `s` was to have, where no lock or filing had moved it. */
const wantedOn = (split: readonly SourceOnAccount[]): SQL =>
  sql`CASE WHEN s.state <> 'posted' THEN NULL WHEN s.source = ANY(${namesOf(split.filter(one => one.splitAtMonthEnd))}::text[])
      AND date_trunc('month', l.local_date) < date_trunc('month', s.entry_date)
    THEN least(greatest((date_trunc('month', l.local_date) + interval '1 month - 1 day')::date, ${bookedFrom}), s.entry_date) ELSE s.entry_date END`

/** The same of transfer `t` of payout line `l`: what a lock has moved was to have the date that its head or its line tells. */
const transferWantedOn = sql`(SELECT CASE WHEN told.day < t.date AND EXISTS (SELECT FROM period p WHERE p.client_id = s.client_id AND p.locked
      AND p.month = to_char(told.day, 'YYYY-MM')) THEN told.day ELSE t.date END
    FROM (SELECT CASE WHEN l.kind = 'payout' THEN coalesce(s.payout_date, l.local_date) ELSE l.local_date END AS day) told)`

/** Condition that line `l` stood as of a slot. */
const stood = revisionAsOf(sql`slot.as_of`)

/** One movement on a day, nowhere booked. */
const moved = (date: SQL, amount: SQL): SQL =>
  sql`json_build_array(json_build_object('date', ${date}, 'amount', ${amount}, 'bookedOn', NULL))`

/** Condition that settlement `s` of an account's own sources is begun by a date and not past in all its dates. */
const standsAcross = (clearing: ClearingAccount, date: string): SQL => {
  // Only where a payout leaves the balance no sooner than it has arrived does it matter when it did.
  const late = lateSources(clearing)
  const stillComing =
    late.length === 0
      ? sql``
      : sql`OR s.source = ANY(${namesOf(late)}::text[]) AND EXISTS (SELECT FROM transfer t WHERE t.client_id = s.client_id
          AND t.source = s.source AND t.key = s.key AND t.currency = s.currency AND NOT t.reversed
          AND coalesce(${arrivedOn} > ${date}::date, true))`
  return sql`s.client_id = current_client() AND s.source = ANY(${namesOf(clearing.sources)}::text[]) AND s.currency = ${clearing.currency}
    AND (${notYet} AND s.last_date > ${date}::date OR s.state = 'posted' AND (s.settled_by > ${date}::date OR s.odd_dates ${stillComing}))
    AND (s.first_date <= ${date}::date OR s.entry_date <= ${date}::date)`
}

// A settlement that is posted and past in all its dates explains nothing any more; one that is not posted and past in all
// its dates is its balance. Only of what stands across the date are the lines looked at.
export const openSettlements = (
  clearing: ClearingAccount,
  { date, corrected }: { readonly date: string; readonly corrected: Corrected },
): SQL => {
  return sql`
    SELECT s.source, s.key, s.state, s.entry_date AS place, moved.movements, paid.payouts
    FROM settlement s
    CROSS JOIN LATERAL ${journalEnd} journal
    CROSS JOIN LATERAL (
      SELECT json_agg(json_build_object('date', d.local_date, 'amount', d.amount, 'bookedOn', d.booked_on,
        'wantedOn', d.wanted_on)) AS movements FROM (
        SELECT l.local_date, ${bookedOn(clearing.sources)} AS booked_on, ${wantedOn(clearing.sources)} AS wanted_on,
          coalesce(sum(slot.sign * l.amount) FILTER (WHERE ${movesClearing} AND NOT ${isMatched(sql`slot.as_of`)}), 0)::bigint AS amount
        FROM ${slots(corrected)} CROSS JOIN line_as_of l
        WHERE l.client_id = current_client() AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
          AND NOT s.payouts_only AND ${kindIsNot('payout')} AND ${isBooked} AND ${stood}
        GROUP BY 1, 2, 3) d
    ) moved
    CROSS JOIN LATERAL (
      SELECT json_agg(json_build_object('lineId', l.line_id, 'date', l.local_date, 'amount', l.amount, 'transferDate', t.date,
        'wantedOn', t.wanted_on, 'arrivedOn', t.arrived_on)) AS payouts
      FROM ${slots(corrected)} CROSS JOIN line_as_of l
      LEFT JOIN LATERAL (
        SELECT t.date, ${transferWantedOn} AS wanted_on, ${arrivedOn} AS arrived_on
        FROM transfer t WHERE s.state = 'posted' AND t.client_id = current_client() AND t.source = s.source AND t.payout_line = l.line_id
          AND t.generation = s.generation AND NOT t.reversed
      ) t ON true
      WHERE slot.booked_on IS NULL AND l.client_id = current_client() AND l.source = s.source AND l.settlement_key = s.key
        AND l.currency = s.currency AND ${kindIs('payout')} AND ${isBooked} AND ${stood}
    ) paid
    WHERE ${standsAcross(clearing, date)}`
}

/** Date of the last bank line that transfer `t` was confirmed to have arrived with. */
const arrivedOn = sql`(SELECT max(b.date) FROM paired_transfer pt JOIN paired_bank_line pb USING (client_id, pairing_id)
  JOIN bank_line b ON b.client_id = pb.client_id AND b.bank_account = pb.bank_account AND b.line_id = pb.line_id
  WHERE t.paired AND pt.client_id = t.client_id AND pt.source = t.source AND pt.payout_line = t.payout_line
    AND pt.generation = t.generation AND pt.active)`

/** What a settlement that is not booked comes to here, all its lines or its payouts alone. */
const balanceHere = sql`CASE WHEN payouts_only THEN -payout ELSE balance END`

/** With `brief`, added up by state: the course needs the sum only, however many wait. */
export const wholeSettlements = (clearing: ClearingAccount, at: { date: string; brief: boolean }): SQL => {
  const own = sql`client_id = current_client() AND source = ANY(${namesOf(clearing.sources)}::text[]) AND currency = ${clearing.currency}
    AND state IN ('blocked', 'proposed', 'set_aside') AND last_date <= ${at.date}::date`
  return at.brief
    ? sql`SELECT source, '' AS key, state, NULL::date AS place, ${moved(sql`${at.date}::date`, sql`sum(${balanceHere})::bigint`)} AS movements,
        NULL::json AS payouts FROM settlement WHERE ${own} GROUP BY source, state`
    : sql`SELECT source, key, state, entry_date AS place, ${moved(sql`last_date`, balanceHere)} AS movements, NULL::json AS payouts
        FROM settlement WHERE ${own}`
}

/** Collections that tenders have booked, and stock, in settlements that are not posted: counted in their balance, and booked nowhere. */
export const unbookedLines = (clearing: ClearingAccount, date: string): SQL => sql`
  SELECT s.source, s.key, s.state, l.local_date AS place, ${moved(sql`l.local_date`, sql`-sum(l.amount)::bigint`)} AS movements, NULL::json AS payouts
  FROM settlement s JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
    AND l.currency = s.currency AND ${isBooked} AND ${revisionAsOf('now')} AND (NOT ${movesClearing} OR ${isMatched('now')})
  WHERE s.client_id = current_client() AND s.source = ANY(${namesOf(clearing.sources)}::text[]) AND s.currency = ${clearing.currency}
    AND ${notYet} AND NOT s.payouts_only AND s.last_date <= ${date}::date GROUP BY 1, 2, 3, 4`

/**
 * Payouts of settlements that are not posted and past in all their dates, of sources whose balance keeps them until they arrive: told apart
 * from the rest of their settlement.
 */
export const waitingPayouts = (clearing: ClearingAccount, date: string): SQL => sql`
  SELECT s.source, s.key, s.state, l.local_date AS place, ${moved(sql`l.local_date`, sql`-l.amount`)} AS movements,
    json_build_array(json_build_object('lineId', l.line_id, 'date', l.local_date, 'amount', l.amount, 'transferDate', NULL, 'arrivedOn', NULL)) AS payouts
  FROM settlement s JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
    AND l.currency = s.currency AND ${kindIs('payout')} AND ${isBooked} AND ${revisionAsOf('now')}
  WHERE s.client_id = current_client() AND s.source = ANY(${namesOf(lateSources(clearing))}::text[]) AND s.currency = ${clearing.currency}
    AND ${notYet} AND s.last_date <= ${date}::date`

/** What a settlement's lines move a clearing account by, dated as they happened and as they are booked; for settlement `s` and lines `l`. */
export const slotParts = { slots, journalEnd, bookedOn, stood, notYet }
