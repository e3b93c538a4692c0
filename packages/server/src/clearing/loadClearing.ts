import type { ClearingList, ClearingRow, ProofPage } from '@culvert/contract'
import { ageOpen, type Proof } from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  type ClearingAccount,
  clearingAccounts,
  countsInOrders,
  holdsMoney,
  lastDay,
  ledgerAt,
  namesOf,
  sayersOf,
} from '../activity/clearingAccounts.ts'
import { documentOf } from '../activity/elsewhereLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type BalanceAccount, balanceAccounts, proveBalance, statedAt } from './balanceProof.ts'
import { loadLeads, loadMissing } from './loadLeads.ts'
import { loadProof } from './loadProof.ts'

/** All clearing accounts with their books, what is reported and what stays unexplained; and what else can be proved. */
export const loadClearingList = async (tx: Transaction): Promise<ClearingList> => {
  const accounts: ClearingRow[] = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = await loadProof(tx, clearing, null, true)
    accounts.push({
      account: clearing.account,
      name: clearing.name,
      sourceName: sayersOf(clearing),
      holdsMoney: holdsMoney(clearing),
      currency: clearing.currency,
      entries: await countEntries(tx, clearing),
      books: proof?.ledger ?? (await ledgerAt(tx, clearing, '9999-12-31')),
      reported: proof?.reported ?? null,
      reportedOn: proof?.reportedOn ?? null,
      unexplained: proof?.unexplained ?? null,
      outcome: proof?.outcome ?? null,
    })
  }
  const balances: ClearingList['balances'] = []
  for (const of of await balanceAccounts(tx)) {
    const stated = await statedAt(tx, of, null)
    balances.push({
      ...of,
      books: await ledgerAt(tx, of, stated?.date ?? '9999-12-31'),
      stated: stated?.amount ?? null,
      statedOn: stated?.date ?? null,
      statedBy: stated?.by ?? null,
    })
  }
  return { accounts, balances }
}

const countEntries = async (tx: Transaction, { account }: ClearingAccount): Promise<number> =>
  (
    await oneRow(
      tx,
      { entries: is.whole },
      sql`SELECT count(*)::int AS entries FROM entry_line WHERE client_id = current_client() AND account = ${account}`,
    )
  ).entries

/** The proof of one account at a date, with the course of its balance; null if it is none that can be proved. */
export const loadProofPage = async (
  tx: Transaction,
  account: string,
  wanted: { date: string | null; currency: string | null },
): Promise<ProofPage | null> => {
  const fits = (one: { account: string; currency: string }): boolean =>
    one.account === account && (wanted.currency === null || one.currency === wanted.currency)
  const clearing = (await clearingAccounts(tx)).find(fits)
  if (clearing) return clearingPage(tx, clearing, wanted.date)
  const balance = (await balanceAccounts(tx)).find(fits)
  return balance ? balancePage(tx, balance, wanted.date) : null
}

const clearingPage = async (tx: Transaction, clearing: ClearingAccount, date: string | null): Promise<ProofPage> => {
  const proof = await loadProof(tx, clearing, date)
  const on = proof?.date ?? date ?? (await lastDay(tx, clearing))
  const by = sayersOf(clearing)
  return {
    account: clearing.account,
    name: clearing.name,
    sort: holdsMoney(clearing) ? 'clearing' : 'orders',
    sourceName: by,
    currency: clearing.currency,
    date: on,
    reportedOn: proof?.reportedOn ?? null,
    ledger: proof?.ledger ?? (await ledgerAt(tx, clearing, on)),
    ...outcomeOf(proof),
    openOrders: await loadOpenOrders(tx, clearing, on),
    leads: proof
      ? await leadsOf(tx, proof, { account: clearing, date: on, by, sources: clearing.sources.map(one => one.source) })
      : [],
    missing: await loadMissing(tx, clearing, on),
    waterline: {
      books: await booksLine(tx, clearing, on),
      reported: holdsMoney(clearing) ? await reportedLine(tx, clearing, on) : [],
    },
    ageing: proof ? ageOpen(proof, on) : [0, 0, 0, 0],
  }
}

const balancePage = async (tx: Transaction, of: BalanceAccount, date: string | null): Promise<ProofPage> => {
  const proved = await proveBalance(tx, of, date)
  const { day } = await oneRow(
    tx,
    { day: is.date },
    sql`SELECT coalesce(max(day), clock_now()::date)::text AS day FROM account_total
      WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency}`,
  )
  const on = proved?.date ?? date ?? day
  const by = proved?.stated.by ?? ''
  return {
    account: of.account,
    name: of.name,
    sort: 'balance',
    sourceName: by,
    currency: of.currency,
    date: on,
    reportedOn: proved?.stated.date ?? null,
    ledger: proved?.ledger ?? (await ledgerAt(tx, of, on)),
    ...outcomeOf(proved),
    openOrders: { total: 0, orders: [] },
    leads: proved ? await leadsOf(tx, proved, { account: of, date: on, by, sources: [] }) : [],
    missing: [],
    waterline: { books: await booksLine(tx, of, on), reported: await statedLine(tx, of, on) },
    ageing: proved ? ageOpen(proved, on) : [0, 0, 0, 0],
  }
}

const outcomeOf = (proof: Proof | null): Pick<ProofPage, 'reported' | 'causes' | 'unexplained' | 'outcome'> => ({
  reported: proof?.reported ?? null,
  causes: (proof?.causes ?? []).map(({ cause, amount, documents }) => ({ cause, amount, documents: [...documents] })),
  unexplained: proof?.unexplained ?? null,
  outcome: proof?.outcome ?? null,
})

const leadsOf = async (
  tx: Transaction,
  proof: Proof,
  at: {
    readonly account: { readonly account: string; readonly currency: string }
    readonly date: string
    readonly by: string
    readonly sources: readonly string[]
  },
): Promise<ProofPage['leads']> => {
  if (proof.unexplained === 0 && proof.wrongEntries.length === 0) return []
  const leads = await loadLeads(
    tx,
    {
      account: at.account.account,
      currency: at.account.currency,
      date: at.date,
      amount: proof.unexplained,
      wrongEntries: proof.wrongEntries,
      reported: { amount: proof.reported, by: at.by },
    },
    at.sources,
  )
  return leads.map(lead => ({
    sort: lead.sort,
    movements: lead.movements.map(({ name, date, amount, ref }) => ({ name, date, amount, ref })),
    meant: lead.sort === 'swapped_digits' && 'meant' in lead ? (lead.meant as number) : null,
  }))
}

/** Orders shown of those that a channel's account leaves open. */
const mostOrders = 200

/** Orders of an account's channels on which something is open at a date: sales not tendered for, tenders without a sale. */
const loadOpenOrders = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string,
): Promise<ProofPage['openOrders']> => {
  const channels = clearing.sources.filter(one => one.shape === 'channel')
  if (channels.length === 0) return { total: 0, orders: [] }
  const rows = await rowsOf(
    tx,
    { source: is.text, order: is.maybe(is.text), line: is.text, date: is.date, amount: is.minor, total: is.whole },
    // Open at the date is what is open now, or has lines after it.
    sql`
    WITH candidate AS MATERIALIZED (
      SELECT o.source, o.order_id, o.line_id FROM open_order o
      WHERE o.client_id = current_client() AND o.source = ANY(${namesOf(channels)}::text[]) AND o.currency = ${clearing.currency}
      UNION
      SELECT l.source, coalesce(l.order_id, ''), CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ANY(${namesOf(channels)}::text[]) AND l.currency = ${clearing.currency}
        AND l.local_date > ${date}
    ), found AS (
      SELECT l.* FROM candidate c JOIN line_as_of l ON l.order_id = c.order_id AND l.source = c.source
        WHERE c.order_id <> '' AND l.client_id = current_client()
      UNION ALL SELECT l.* FROM candidate c JOIN line_as_of l ON l.source = c.source AND l.line_id = c.line_id
        WHERE c.line_id <> '' AND l.client_id = current_client() AND l.order_id IS NULL
    )
    SELECT l.source, l.order_id AS "order", min(l.line_id) AS line, min(l.local_date)::text AS date, sum(l.amount)::bigint AS amount,
      count(*) OVER ()::int AS total
    FROM found l
    WHERE l.currency = ${clearing.currency} AND l.local_date <= ${date} AND ${countsInOrders(channels)}
    GROUP BY l.source, l.order_id, CASE WHEN l.order_id IS NULL THEN l.line_id END HAVING sum(l.amount) <> 0
    ORDER BY abs(sum(l.amount)) DESC, 3 LIMIT ${mostOrders}`,
  )
  return {
    total: rows[0]?.total ?? 0,
    orders: rows.map(row => ({
      date: row.date,
      amount: row.amount,
      ...documentOf({ source: row.source, lineId: row.line, orderId: row.order }),
    })),
  }
}

/** Days of the books shown before the proof's date. */
const waterlineDays = 120

const booksLine = (tx: Transaction, of: { account: string; currency: string }, date: string) =>
  rowsOf(
    tx,
    { date: is.date, balance: is.minor },
    sql`
    SELECT day::text AS date, balance::bigint FROM (
      SELECT day, sum(sum(debit - credit)) OVER (ORDER BY day) AS balance FROM account_total
      WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency} AND day <= ${date}
      GROUP BY day) b
    WHERE day >= ${date}::date - ${waterlineDays}::int ORDER BY day`,
  )

// Only days on which all have spoken: a sum of some of them would look like a drop.
const reportedLine = (tx: Transaction, clearing: ClearingAccount, date: string) => {
  const processors = clearing.sources.filter(one => one.shape !== 'channel')
  const withReserve = processors.filter(one => one.reservesStayOnBalance)
  return rowsOf(
    tx,
    { date: is.date, balance: is.minor },
    sql`
    SELECT date::text, sum(available + pending + CASE WHEN source = ANY(${namesOf(withReserve)}::text[]) THEN reserve ELSE 0 END)::bigint AS balance
    FROM reported_balance WHERE client_id = current_client() AND source = ANY(${namesOf(processors)}::text[]) AND currency = ${clearing.currency}
      AND date <= ${date} AND date >= ${date}::date - ${waterlineDays}::int
    GROUP BY date HAVING count(*) = ${processors.length} ORDER BY date`,
  )
}

const statedLine = (tx: Transaction, of: BalanceAccount, date: string) =>
  rowsOf(
    tx,
    { date: is.date, balance: is.minor },
    sql`
    SELECT date::text, max(amount)::bigint AS balance FROM (
      SELECT date, amount FROM stated_balance WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency}
      UNION ALL
      SELECT b.date, sum(b.reserve) FROM reported_balance b WHERE b.client_id = current_client() AND b.currency = ${of.currency}
        AND EXISTS (SELECT FROM route o WHERE o.client_id = b.client_id AND o.kind = 'reserve_kept' AND o.account = ${of.account}
          AND coalesce(o.source, b.source) = b.source)
      GROUP BY 1) said
    WHERE date <= ${date} AND date >= ${date}::date - ${waterlineDays}::int GROUP BY 1 ORDER BY 1`,
  )
