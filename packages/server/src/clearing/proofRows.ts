import {
  type DatedAmount,
  findDoubles,
  type ProofInput,
  type ProofSettlement,
  type SettlementHead,
  type StandingEntry,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { isBooked, isMatched, revisionAsOf } from '../settlements/storedLines.ts'
import type { ClearingAccount } from './clearingAccounts.ts'

/** Lines of alias `l` that move a clearing account, and in which direction. */
export interface Side {
  readonly lines: SQL
  readonly sign: 1 | -1
}

/** Stock that a till records as bought passes the clearing account by. */
export const movesClearing = sql`l.kind NOT IN ('stock_received', 'supplier_credit')`

export interface SettlementRow {
  readonly source: string
  readonly key: string
  readonly state: ProofSettlement['state']
  readonly movements: DatedAmount[] | null
  readonly payouts:
    | { lineId: string; date: string; amount: number; transferDate: string | null; arrivedOn: string | null }[]
    | null
  readonly entries: DatedAmount[] | null
}

// A settlement that is posted and past in all its dates explains nothing any more; one that is not posted and past in all
// its dates is its balance. Only of what stands across the date are the lines looked at.
export const openSettlements = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf<SettlementRow>(
    tx,
    sql`
    SELECT s.source, s.key, s.state, lines.movements, lines.payouts,
      (SELECT json_agg(json_build_object('date', l.date, 'amount', l.amount))
        FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
        WHERE s.state = 'posted' AND e.client_id = current_client() AND e.source = s.source AND e.key = s.key
          AND e.currency = s.currency AND e.generation = s.generation AND e.document IN ('journal', 'correction')
          AND l.account = ${clearing.account}) AS entries
    FROM settlement s
    LEFT JOIN posting p ON p.client_id = s.client_id AND p.source = s.source AND p.key = s.key AND p.currency = s.currency
      AND p.generation = s.generation AND s.state = 'posted'
    CROSS JOIN LATERAL (SELECT greatest(p.pull_no, (SELECT max(c.pull_no) FROM correction c WHERE c.source = s.source
      AND c.key = s.key AND c.currency = s.currency AND c.generation = s.generation), CASE WHEN p.pull_no IS NULL THEN 2147483647 END) AS as_of) pull
    CROSS JOIN LATERAL (
      SELECT json_agg(json_build_object('date', d.local_date, 'amount', d.amount))
          FILTER (WHERE d.line_id IS NULL) AS movements,
        json_agg(json_build_object('lineId', d.line_id, 'date', d.local_date, 'amount', d.amount,
          'transferDate', t.date, 'arrivedOn', t.arrived_on)) FILTER (WHERE d.line_id IS NOT NULL) AS payouts
      FROM (
        SELECT CASE WHEN l.kind IN ('payout', 'payout_returned') THEN l.line_id END AS line_id, l.local_date,
          sum(l.amount)::bigint AS amount
        FROM activity_line l
        WHERE l.client_id = current_client() AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
          AND ${isBooked} AND ${movesClearing} AND NOT ${isMatched(sql`pull.as_of`)} AND l.pull_no <= pull.as_of
          AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
            AND x.line_id = l.line_id AND x.revision = l.revision AND x.pull_no <= pull.as_of)
        GROUP BY 1, 2
      ) d
      LEFT JOIN LATERAL (
        SELECT t.date, (SELECT max(b.date) FROM paired_transfer pt JOIN paired_bank_line pb USING (client_id, pairing_id)
            JOIN bank_line b ON b.client_id = pb.client_id AND b.bank_account = pb.bank_account AND b.line_id = pb.line_id
            WHERE pt.client_id = t.client_id AND pt.source = t.source AND pt.payout_line = t.payout_line
              AND pt.generation = t.generation AND pt.active) AS arrived_on
        FROM transfer t WHERE t.client_id = current_client() AND t.source = s.source AND t.payout_line = d.line_id
          AND t.generation = s.generation AND NOT t.reversed
      ) t ON d.line_id IS NOT NULL
    ) lines
    WHERE s.client_id = current_client() AND s.source = ${clearing.source} AND s.currency = ${clearing.currency}
      AND (s.state <> 'posted' AND s.last_date > ${date}::date OR s.state = 'posted' AND s.settled_by > ${date}::date ${
        clearing.payoutsLeaveBalance === 'arrived'
          ? sql`OR EXISTS (SELECT FROM transfer t WHERE t.source = s.source AND t.key = s.key AND t.currency = s.currency
            AND NOT t.reversed AND NOT t.paired)`
          : sql``
      })
      AND (s.first_date <= ${date}::date OR s.entry_date <= ${date}::date)
    ORDER BY s.entry_date, s.key`,
  )

// With `brief`, added up by state: the course needs the sum only, however many wait.
export const wholeSettlements = (tx: Transaction, clearing: ClearingAccount, at: { date: string; brief: boolean }) =>
  rowsOf<{ source: string; key: string; state: ProofSettlement['state']; date: string; amount: number }>(
    tx,
    at.brief
      ? sql`SELECT ${clearing.source}::text AS source, '' AS key, state, ${at.date}::text AS date, sum(balance)::bigint AS amount
          FROM settlement WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
            AND state IN ('blocked', 'proposed', 'set_aside') AND last_date <= ${at.date}::date GROUP BY state`
      : sql`SELECT source, key, state, last_date::text AS date, balance AS amount FROM settlement
          WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
            AND state IN ('blocked', 'proposed', 'set_aside') AND last_date <= ${at.date}::date ORDER BY entry_date, key`,
  )

export const loadHeads = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf<SettlementHead>(
    tx,
    sql`
    SELECT key AS "settlementId", period_start::text AS "periodStart", period_end::text AS "periodEnd", currency,
      opening_balance AS "openingBalance", closing_balance AS "closingBalance", payout_date::text AS "payoutDate",
      payout_reference AS "payoutReference", url
    FROM settlement WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      AND has_head AND period_start <= ${date}`,
  )

export const linesWhere = (tx: Transaction, clearing: ClearingAccount, which: 'pending' | 'reserve', date: string) =>
  rowsOf<DatedAmount>(
    tx,
    sql`
    SELECT l.local_date::text AS date, sum(l.amount)::bigint AS amount FROM activity_line l
    WHERE l.client_id = current_client() AND l.source = ${clearing.source} AND l.currency = ${clearing.currency}
      AND l.local_date <= ${date} AND ${movesClearing}
      ${clearing.payoutsLeaveBalance === 'arrived' ? sql`AND l.kind NOT IN ('payout', 'payout_returned')` : sql``}
      AND ${which === 'pending' ? sql`l.status <> 'available' AND l.status = 'pending' AND NOT ${isBooked}` : sql`l.kind IN ('reserve_kept', 'reserve_released') AND ${isBooked}`}
      AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
        AND x.line_id = l.line_id AND x.revision = l.revision)
    GROUP BY 1`,
  )

/**
 * What revisions, new lines and matches since the posting come to: what its lines are now less what they were then. `side` says which lines
 * of alias `l` move the account, and in which direction.
 */
export const loadCorrections = (tx: Transaction, clearing: ClearingAccount, side: Side) =>
  rowsOf<DatedAmount & { name: string }>(
    tx,
    sql`
    SELECT CASE WHEN s.key LIKE 'day:%' THEN s.source || ':' || substr(s.key, 5) ELSE s.key END AS name, l.local_date::text AS date,
      (${side.sign}::int * sum(CASE WHEN x.pull_no IS NULL AND NOT m.now THEN l.amount ELSE 0 END
        - CASE WHEN l.pull_no <= p.as_of AND coalesce(x.pull_no > p.as_of, true) AND NOT m."then" THEN l.amount ELSE 0 END))::bigint
        AS amount
    FROM settlement s
    JOIN LATERAL (SELECT greatest(max(p.pull_no), max(c.pull_no)) AS as_of FROM posting p
      LEFT JOIN correction c USING (client_id, source, key, currency, generation)
      WHERE p.source = s.source AND p.key = s.key AND p.currency = s.currency AND p.generation = s.generation) p ON true
    JOIN activity_line l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
      AND ${isBooked} AND ${movesClearing} AND ${side.lines}
    LEFT JOIN activity_superseded x ON x.client_id = l.client_id AND x.source = l.source AND x.line_id = l.line_id
      AND x.revision = l.revision
    CROSS JOIN LATERAL (SELECT ${isMatched('now')} AS now, ${isMatched(sql`p.as_of`)} AS "then") m
    WHERE s.client_id = current_client() AND s.currency = ${clearing.currency} AND s.state = 'posted' AND s.corrections > 0
    GROUP BY 1, 2 HAVING sum(CASE WHEN x.pull_no IS NULL AND NOT m.now THEN l.amount ELSE 0 END
        - CASE WHEN l.pull_no <= p.as_of AND coalesce(x.pull_no > p.as_of, true) AND NOT m."then" THEN l.amount ELSE 0 END) <> 0`,
  )

/** Entries on an account that no source made, with the entry of a source that each repeats; those taken back by the date left out. */
export const loadByHand = async (
  tx: Transaction,
  on: { account: string; currency: string },
  date: string,
  documents: SQL = sql`true`,
): Promise<ProofInput['byHand']> => {
  const rows = await rowsOf<DatedAmount & { name: string }>(
    tx,
    sql`
    SELECT e.fiscal_year || '-' || lpad(e.number::text, 4, '0') || CASE WHEN e.memo = '' THEN '' ELSE ', ' || e.memo END AS name,
      l.date::text AS date, l.amount
    FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
    WHERE e.client_id = current_client() AND e.source IS NULL AND l.account = ${on.account} AND l.currency = ${on.currency}
      AND e.date <= ${date} AND l.amount <> 0 AND ${documents} AND e.reverses_number IS NULL
      AND NOT EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year
        AND r.reverses_number = e.number AND r.date <= ${date})
    ORDER BY e.date, e.fiscal_year, e.number`,
  )
  if (rows.length === 0) return []
  const made = await rowsOf<StandingEntry>(
    tx,
    sql`
    SELECT e.fiscal_year || '-' || lpad(e.number::text, 4, '0') AS name, l.date::text AS date, l.amount
    FROM entry_line l JOIN entry e ON e.client_id = l.client_id AND e.fiscal_year = l.fiscal_year AND e.number = l.number
    WHERE l.client_id = current_client() AND l.account = ${on.account} AND l.currency = ${on.currency}
      AND l.amount = ANY(${sql.param(rows.map(row => row.amount))}::bigint[]) AND l.date = ANY(${sql.param(rows.map(row => row.date))}::date[])
      AND e.source IS NOT NULL AND e.document = 'journal' ORDER BY e.fiscal_year, e.number`,
  )
  const doubles = findDoubles(rows, made)
  return rows.map((row, index) => ({ ...row, doubleOf: doubles[index]?.name ?? null }))
}

/** Collections that tenders have booked, and stock, in settlements that are not posted: counted in their balance, and booked nowhere. */
export const loadUnbooked = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf<{ source: string; key: string; state: ProofSettlement['state']; date: string; amount: number }>(
    tx,
    sql`
    SELECT s.source, s.key, s.state, l.local_date::text AS date, sum(l.amount)::bigint AS amount
    FROM settlement s JOIN activity_line l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
      AND l.currency = s.currency AND ${isBooked} AND ${revisionAsOf('now')} AND (NOT ${movesClearing} OR ${isMatched('now')})
    WHERE s.client_id = current_client() AND s.source = ${clearing.source} AND s.currency = ${clearing.currency}
      AND s.state <> 'posted' AND s.last_date <= ${date} GROUP BY 1, 2, 3, 4`,
  )

/** Payouts of settlements that are not posted and past in all their dates: counted in their balance. */
export const loadUnpostedPayouts = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf<{
    source: string
    key: string
    state: ProofSettlement['state']
    lineId: string
    date: string
    amount: number
  }>(
    tx,
    sql`
    SELECT s.source, s.key, s.state, l.line_id AS "lineId", l.local_date::text AS date, l.amount
    FROM settlement s JOIN activity_line l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
      AND l.currency = s.currency AND l.kind IN ('payout', 'payout_returned') AND ${isBooked} AND ${revisionAsOf('now')}
    WHERE s.client_id = current_client() AND s.source = ${clearing.source} AND s.currency = ${clearing.currency}
      AND s.state <> 'posted' AND s.last_date <= ${date}`,
  )
