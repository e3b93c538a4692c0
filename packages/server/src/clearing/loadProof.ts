import {
  type DatedAmount,
  type Proof,
  type ProofInput,
  type ProofSettlement,
  proveClearing,
  type SettlementHead,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { settlementName } from '../settlements/settlementKey.ts'
import { isBooked } from '../settlements/storedLines.ts'

/** A clearing account, and the source and currency whose balance it mirrors. */
export interface ClearingAccount {
  readonly account: string
  readonly name: string
  readonly source: string
  readonly currency: string
  readonly payoutsLeaveBalance: 'sent' | 'arrived'
  readonly reservesStayOnBalance: boolean
}

export const clearingAccounts = (tx: Transaction): Promise<ClearingAccount[]> =>
  rowsOf(
    tx,
    sql`
    SELECT c.account, a.name, c.source, c.currency,
      coalesce(s.options->>'payoutsLeaveBalance', 'sent') AS "payoutsLeaveBalance",
      coalesce((s.options->>'reservesStayOnBalance')::boolean, false) AS "reservesStayOnBalance"
    FROM source_clearing c JOIN account a ON a.code = c.account AND a.client_id = c.client_id
    JOIN source s ON s.source = c.source AND s.client_id = c.client_id ORDER BY c.account`,
  )

/** What the processor said last, on or before a date: the sum that its balance shows. */
export const reportedAt = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string | null,
): Promise<{ date: string; amount: number } | null> => {
  const [row] = await rowsOf<{ date: string; amount: number }>(
    tx,
    sql`
    SELECT date::text, available + pending + ${clearing.reservesStayOnBalance ? sql`reserve` : sql`0`} AS amount
    FROM reported_balance WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      ${date === null ? sql`` : sql`AND date <= ${date}`} ORDER BY date DESC LIMIT 1`,
  )
  return row ?? null
}

/** Balance of an account in the books at the end of a date, minor units of its currency, debit positive. */
export const ledgerAt = async (
  tx: Transaction,
  clearing: { account: string; currency: string },
  date: string,
): Promise<number> => {
  const [row] = await rowsOf<{ amount: number | null }>(
    tx,
    sql`
    SELECT sum(debit - credit)::bigint AS amount FROM account_total
    WHERE client_id = current_client() AND account = ${clearing.account} AND currency = ${clearing.currency} AND day <= ${date}`,
  )
  return row?.amount ?? 0
}

interface SettlementRow {
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
const openSettlements = (tx: Transaction, clearing: ClearingAccount, date: string) =>
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
          AND ${isBooked} AND l.pull_no <= pull.as_of
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
const wholeSettlements = (tx: Transaction, clearing: ClearingAccount, at: { date: string; brief: boolean }) =>
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

const loadHeads = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf<SettlementHead>(
    tx,
    sql`
    SELECT key AS "settlementId", period_start::text AS "periodStart", period_end::text AS "periodEnd", currency,
      opening_balance AS "openingBalance", closing_balance AS "closingBalance", payout_date::text AS "payoutDate",
      payout_reference AS "payoutReference", url
    FROM settlement WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      AND has_head AND period_start <= ${date}`,
  )

const linesWhere = (tx: Transaction, clearing: ClearingAccount, which: 'pending' | 'reserve', date: string) =>
  rowsOf<DatedAmount>(
    tx,
    sql`
    SELECT l.local_date::text AS date, sum(l.amount)::bigint AS amount FROM activity_line l
    WHERE l.client_id = current_client() AND l.source = ${clearing.source} AND l.currency = ${clearing.currency}
      AND l.local_date <= ${date}
      AND ${which === 'pending' ? sql`l.status <> 'available' AND l.status = 'pending' AND NOT ${isBooked}` : sql`l.kind IN ('reserve_kept', 'reserve_released') AND ${isBooked}`}
      AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
        AND x.line_id = l.line_id AND x.revision = l.revision)
    GROUP BY 1`,
  )

// What revisions since the posting come to, line by line dated; the old revision counts with the other sign.
const loadCorrections = (tx: Transaction, clearing: ClearingAccount) =>
  rowsOf<DatedAmount & { name: string }>(
    tx,
    sql`
    SELECT s.key AS name, l.local_date::text AS date,
      sum(CASE WHEN l.pull_no > p.as_of THEN l.amount ELSE 0 END
        - CASE WHEN l.pull_no <= p.as_of AND x.pull_no > p.as_of THEN l.amount ELSE 0 END)::bigint AS amount
    FROM settlement s
    JOIN LATERAL (SELECT greatest(max(p.pull_no), max(c.pull_no)) AS as_of FROM posting p
      LEFT JOIN correction c USING (client_id, source, key, currency, generation)
      WHERE p.source = s.source AND p.key = s.key AND p.currency = s.currency AND p.generation = s.generation) p ON true
    JOIN activity_line l ON l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency
      AND ${isBooked}
    LEFT JOIN activity_superseded x ON x.client_id = l.client_id AND x.source = l.source AND x.line_id = l.line_id
      AND x.revision = l.revision
    WHERE s.client_id = current_client() AND s.source = ${clearing.source} AND s.currency = ${clearing.currency}
      AND s.state = 'posted' AND s.corrections > 0
      AND NOT (l.pull_no > p.as_of AND x.pull_no IS NOT NULL)
    GROUP BY 1, 2`,
  )

const loadByHand = (tx: Transaction, clearing: ClearingAccount) =>
  rowsOf<DatedAmount & { name: string }>(
    tx,
    sql`
    SELECT e.fiscal_year || '-' || lpad(e.number::text, 4, '0') || CASE WHEN e.memo = '' THEN '' ELSE ', ' || e.memo END AS name,
      l.date::text AS date, l.amount
    FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
    WHERE e.client_id = current_client() AND e.source IS NULL AND l.account = ${clearing.account} AND l.currency = ${clearing.currency}`,
  )

/** Everything a proof of a clearing account at a date is made of. */
export const loadProofInput = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: { date: string; reported: number; brief?: boolean },
): Promise<ProofInput> => {
  const { date } = at
  const settlements = await openSettlements(tx, clearing, date)
  const whole = await wholeSettlements(tx, clearing, { date, brief: at.brief ?? false })
  return {
    date,
    reported: at.reported,
    ledger: await ledgerAt(tx, clearing, date),
    settlements: [
      ...whole.map(row => ({
        name: settlementName(row),
        state: row.state,
        movements: [{ date: row.date, amount: row.amount }],
        payouts: [],
        entries: [],
      })),
      ...settlements.map(row => ({
        name: settlementName(row),
        state: row.state,
        movements: row.movements ?? [],
        payouts: row.payouts ?? [],
        entries: row.entries ?? [],
      })),
    ],
    payoutsLeaveBalance: clearing.payoutsLeaveBalance,
    reserves: clearing.reservesStayOnBalance ? await linesWhere(tx, clearing, 'reserve', date) : [],
    pending: await linesWhere(tx, clearing, 'pending', date),
    corrections: await loadCorrections(tx, clearing),
    byHand: await loadByHand(tx, clearing),
    heads: await loadHeads(tx, clearing, date),
  }
}

/** The proof at a date, or at the processor's last report; null where the processor never reported a balance. */
export const loadProof = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string | null,
  brief = false,
): Promise<(Proof & { date: string; reportedOn: string }) | null> => {
  const reported = await reportedAt(tx, clearing, date)
  if (!reported) return null
  const on = date ?? reported.date
  const proof = proveClearing(await loadProofInput(tx, clearing, { date: on, reported: reported.amount, brief }))
  return { ...proof, date: on, reportedOn: reported.date }
}

/** What is unexplained of each clearing account that is not proved, at its last report: minor units of its own currency. */
export const unexplainedNow = async (
  tx: Transaction,
): Promise<readonly { readonly currency: string; readonly amount: number }[]> => {
  const open: { currency: string; amount: number }[] = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = await loadProof(tx, clearing, null, true)
    if (proof && proof.unexplained !== 0) open.push({ currency: clearing.currency, amount: proof.unexplained })
  }
  return open
}
