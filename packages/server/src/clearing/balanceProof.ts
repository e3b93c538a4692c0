import {
  type Composed,
  composeSettlement,
  type ProofInput,
  type ProofSettlement,
  proveClearing,
  type SettlementActivity,
  type Setup,
  sumMinor,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { type LoadedActivity, loadActivity } from '../settlements/loadActivity.ts'
import { type ClientSetup, loadSetup } from '../settlements/loadSetup.ts'
import { postedAs } from '../settlements/postedAs.ts'
import { type SettlementKey, settlementName } from '../settlements/settlementKey.ts'
import { ledgerAt } from './clearingAccounts.ts'
import { loadByHand } from './proofRows.ts'

/** An account that holds or owes something: gift cards, reserves, advances, deposits of customers, tax. */
export interface BalanceAccount {
  readonly account: string
  readonly name: string
  readonly type: string
  readonly currency: string
}

/** Types of accounts whose balance somebody outside can state. */
const provable = ['current_asset', 'current_liability', 'loan', 'tax', 'receivable', 'payable']

/** Accounts besides the clearing accounts that sources' entries have moved, in each of their currencies. */
export const balanceAccounts = (tx: Transaction): Promise<BalanceAccount[]> =>
  rowsOf<BalanceAccount>(
    tx,
    sql`
    SELECT a.code AS account, a.name, a.type, t.currency FROM account a
    CROSS JOIN (SELECT base AS currency FROM client WHERE client_id = current_client()
      UNION SELECT currency FROM source_clearing WHERE client_id = current_client()) t
    WHERE a.client_id = current_client() AND a.type = ANY(${sql.param(provable)}::text[])
      AND EXISTS (SELECT FROM account_total x WHERE x.client_id = a.client_id AND x.account = a.code AND x.currency = t.currency)
    ORDER BY a.code, t.currency`,
  )

/** What was said of an account's balance last, on or before a date; of reserves the processors say it themselves. */
export const statedAt = async (
  tx: Transaction,
  of: BalanceAccount,
  date: string | null,
): Promise<{ date: string; amount: number; by: string } | null> => {
  const until = date === null ? sql`` : sql`AND date <= ${date}`
  const [stated] = await rowsOf<{ date: string; amount: number }>(
    tx,
    sql`SELECT date::text, amount FROM stated_balance WHERE client_id = current_client() AND account = ${of.account}
      AND currency = ${of.currency} ${until} ORDER BY date DESC LIMIT 1`,
  )
  const [reserve] = await rowsOf<{ date: string; amount: number; by: string }>(
    tx,
    sql`
    SELECT max(b.date)::text AS date, sum(b.reserve)::bigint AS amount, string_agg(s.name, ', ' ORDER BY s.name) AS by
    FROM source s JOIN LATERAL (SELECT date, reserve FROM reported_balance r WHERE r.client_id = s.client_id AND r.source = s.source
      AND r.currency = ${of.currency} ${until} ORDER BY date DESC LIMIT 1) b ON true
    WHERE s.client_id = current_client() AND EXISTS (SELECT FROM activity_week w WHERE w.client_id = s.client_id
        AND w.source = s.source AND w.kind = 'reserve_kept')
      AND EXISTS (SELECT FROM route o WHERE o.client_id = s.client_id AND o.kind = 'reserve_kept' AND o.account = ${of.account}
        AND coalesce(o.source, s.source) = s.source)
    HAVING count(*) > 0`,
  )
  if (reserve && (!stated || stated.date < reserve.date)) return reserve
  return stated ? { ...stated, by: 'it was stated' } : null
}

const amountOn = (account: string, composed: Composed): number =>
  sumMinor(
    composed.entries.flatMap(entry => entry.lines),
    line => (line.account === account ? line.amount : 0),
  )

/** What an activity's lines up to a date come to on an account: composed as if they were all, and nothing held them up. */
const movedBy = (account: string, activity: SettlementActivity, mapped: Setup, date: string): number => {
  const setup = withoutTaxCheck(mapped)
  const until = (lines: SettlementActivity['lines']) => lines.filter(line => line.localDate <= date)
  const whole = { ...activity, head: null, payouts: [], lines: until(activity.lines) }
  const composed = composeSettlement(whole, setup)
  if (composed.blocks.length === 0) return amountOn(account, composed)
  // What has no route, no tax code or no rate cannot be told apart yet; the rest can.
  const resolvable = whole.lines.filter(
    line => composeSettlement({ ...whole, lines: [line] }, setup).blocks.length === 0,
  )
  return amountOn(account, composeSettlement({ ...whole, lines: resolvable }, setup))
}

const withoutTaxCheck = (setup: Setup): Setup => ({
  ...setup,
  sources: new Map(
    [...setup.sources].map(([key, source]) => [key, { ...source, options: { ...source.options, taxTolerance: null } }]),
  ),
})

interface Standing extends SettlementKey {
  readonly state: ProofSettlement['state']
  readonly corrections: number
  readonly entries: { date: string; amount: number }[] | null
}

// Only settlements that are not posted, stand across the date, or were corrected since: all others are in the books with all they have.
const standing = (tx: Transaction, of: BalanceAccount, date: string) =>
  rowsOf<Standing>(
    tx,
    sql`
    SELECT s.source, s.key, s.currency, s.state, s.corrections,
      (SELECT json_agg(json_build_object('date', l.date, 'amount', l.amount))
        FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year AND l.number = e.number
        WHERE s.state = 'posted' AND e.client_id = s.client_id AND e.source = s.source AND e.key = s.key
          AND e.currency = s.currency AND e.generation = s.generation AND e.document IN ('journal', 'correction')
          AND l.account = ${of.account}) AS entries
    FROM settlement s
    WHERE s.client_id = current_client() AND s.currency = ${of.currency} AND (s.first_date <= ${date} OR s.entry_date <= ${date})
      AND (s.state <> 'posted' OR s.settled_by > ${date} OR s.corrections > 0)
    ORDER BY s.entry_date, s.key`,
  )

/** What an account's proof at a date is made of, with what was stated of it. */
export const loadBalanceInput = async (
  tx: Transaction,
  of: BalanceAccount,
  at: { date: string; reported: number },
): Promise<ProofInput> => {
  const { date } = at
  const rows = await standing(tx, of, date)
  const today = await loadSetup(tx)
  const settlements: ProofSettlement[] = []
  const corrections: { name: string; date: string; amount: number }[] = []
  for (const row of rows) {
    const posted = row.state === 'posted' ? await postedAs(tx, row) : null
    const client: ClientSetup = posted ? await loadSetup(tx, posted.mapVersion) : today
    const [then] = await loadActivity(tx, client, { keys: [row], asOf: posted?.pullNo ?? 'now' })
    if (!then) continue
    const moved = movedBy(of.account, then.activity, client.setup, date)
    const name = settlementName(row)
    settlements.push({
      name,
      state: row.state,
      movements: [{ date: lastDateOf(then, date), amount: moved }],
      payouts: [],
      entries: row.entries ?? [],
    })
    if (!posted || row.corrections === 0) continue
    const [now] = await loadActivity(tx, client, { keys: [row] })
    const amount = now ? movedBy(of.account, now.activity, client.setup, date) - moved : 0
    if (amount !== 0) corrections.push({ name, date, amount })
  }
  return {
    date,
    reported: at.reported,
    ledger: await ledgerAt(tx, of, date),
    settlements,
    payoutsLeaveBalance: 'sent',
    reserves: [],
    pending: [],
    corrections,
    // What the bank moved, whoever stated the balance knows as well.
    byHand: await loadByHand(tx, of, date, sql`e.document <> 'bank'`),
    heads: [],
  }
}

const lastDateOf = ({ activity }: LoadedActivity, date: string): string => {
  const last = activity.lines.reduce(
    (latest, line) => (line.localDate <= date && line.localDate > latest ? line.localDate : latest),
    '',
  )
  return last || date
}

/** Proves an account at a date against what was stated of it; null where nothing was. */
export const proveBalance = async (tx: Transaction, of: BalanceAccount, date: string | null) => {
  const stated = await statedAt(tx, of, date)
  if (!stated) return null
  const on = date ?? stated.date
  const proof = proveClearing(await loadBalanceInput(tx, of, { date: on, reported: stated.amount }))
  return { ...proof, date: on, stated }
}
