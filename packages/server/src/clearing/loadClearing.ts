import type { ClearingRow, ProofPage } from '@culvert/contract'
import { daysBetween, type Proof } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { type ClearingAccount, clearingAccounts, ledgerAt, loadProof } from './loadProof.ts'

/** All clearing accounts with their books, what the processor says and what stays unexplained at its last report. */
export const loadClearingList = async (tx: Transaction): Promise<ClearingRow[]> => {
  const rows: ClearingRow[] = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = await loadProof(tx, clearing, null, true)
    const { name, entries } = await factsOf(tx, clearing)
    rows.push({
      account: clearing.account,
      name: clearing.name,
      source: clearing.source,
      sourceName: name,
      currency: clearing.currency,
      entries,
      books: proof?.ledger ?? (await ledgerAt(tx, clearing, '9999-12-31')),
      reported: proof?.reported ?? null,
      reportedOn: proof?.reportedOn ?? null,
      unexplained: proof?.unexplained ?? null,
    })
  }
  return rows
}

const factsOf = (tx: Transaction, clearing: ClearingAccount) =>
  oneRow<{ name: string; entries: number }>(
    tx,
    sql`
    SELECT name, (SELECT count(*)::int FROM entry_line WHERE client_id = current_client() AND account = ${clearing.account}) AS entries
    FROM source WHERE client_id = current_client() AND source = ${clearing.source}`,
  )

/** The proof of one clearing account at a date, with the course of its balance; null if it is none. */
export const loadProofPage = async (
  tx: Transaction,
  account: string,
  date: string | null,
): Promise<ProofPage | null> => {
  const clearing = (await clearingAccounts(tx)).find(candidate => candidate.account === account)
  if (!clearing) return null
  const proof = await loadProof(tx, clearing, date)
  const on = proof?.date ?? date ?? (await lastDay(tx, clearing))
  const { name } = await factsOf(tx, clearing)
  return {
    account,
    name: clearing.name,
    source: clearing.source,
    sourceName: name,
    currency: clearing.currency,
    date: on,
    reportedOn: proof?.reportedOn ?? null,
    ledger: proof?.ledger ?? (await ledgerAt(tx, clearing, on)),
    reported: proof?.reported ?? null,
    causes: (proof?.causes ?? []).map(cause => ({
      cause: cause.cause,
      amount: cause.amount,
      documents: cause.documents.map(document => ({ ...document, link: linkOf(cause.cause, document.name, clearing) })),
    })),
    unexplained: proof?.unexplained ?? null,
    waterline: await loadWaterline(tx, clearing, on),
    ageing: await ageing(tx, clearing, proof, on),
  }
}

/** The last day on which anything moved the account: what its books are shown at where no balance was reported. */
const lastDay = async (tx: Transaction, clearing: ClearingAccount): Promise<string> => {
  const { day } = await oneRow<{ day: string | null }>(
    tx,
    sql`SELECT coalesce((SELECT max(day) FROM account_total WHERE client_id = current_client() AND account = ${clearing.account}),
      (SELECT max(last_date) FROM settlement WHERE client_id = current_client() AND source = ${clearing.source}), current_date)::text AS day`,
  )
  return day ?? ''
}

const linkOf = (cause: string, name: string, clearing: ClearingAccount): string | null => {
  if (cause === 'by_hand') return `/books/entries/${name.split(',')[0]?.replace(/-0*/, '-')}`
  if (name === '') return null
  const dayPrefix = `${clearing.source}:`
  const key = name.startsWith(dayPrefix) ? `day:${name.slice(dayPrefix.length)}` : name
  return `/settlements/${clearing.source}/${encodeURIComponent(key)}/${clearing.currency}`
}

/** Days of the books shown before the proof's date. */
const waterlineDays = 120

const loadWaterline = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string,
): Promise<ProofPage['waterline']> => ({
  books: await rowsOf(
    tx,
    sql`
    SELECT day::text AS date, balance::bigint FROM (
      SELECT day, sum(sum(debit - credit)) OVER (ORDER BY day) AS balance FROM account_total
      WHERE client_id = current_client() AND account = ${clearing.account} AND currency = ${clearing.currency} AND day <= ${date}
      GROUP BY day) b
    WHERE day >= ${date}::date - ${waterlineDays}::int ORDER BY day`,
  ),
  reported: await rowsOf(
    tx,
    sql`
    SELECT date::text, (available + pending + ${clearing.reservesStayOnBalance ? sql`reserve` : sql`0`})::bigint AS balance
    FROM reported_balance WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      AND date <= ${date} AND date >= ${date}::date - ${waterlineDays}::int ORDER BY date`,
  ),
})

/** What is open on the account, by age in days: 0–7, 8–30, 31–60, over 60. Settlements not posted, payouts on their way. */
const ageing = async (
  tx: Transaction,
  clearing: ClearingAccount,
  proof: Proof | null,
  date: string,
): Promise<number[]> => {
  const names = new Map(
    (proof?.causes ?? [])
      .filter(cause => ['blocked', 'unposted', 'payout_on_its_way', 'after_cut_off'].includes(cause.cause))
      .flatMap(cause => cause.documents.map(document => [document.name, document.amount] as const)),
  )
  const rows = await rowsOf<{ key: string; at: string }>(
    tx,
    sql`
    SELECT key, coalesce(last_date, entry_date)::text AS at FROM settlement
    WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      AND key = ANY(${sql.param([...names.keys()].map(name => name.replace(`${clearing.source}:`, 'day:')))}::text[])`,
  )
  const buckets = [0, 0, 0, 0]
  for (const { key, at } of rows) {
    const age = daysBetween(at, date)
    const place = age <= 7 ? 0 : age <= 30 ? 1 : age <= 60 ? 2 : 3
    buckets[place] =
      (buckets[place] as number) + (names.get(key) ?? names.get(key.replace('day:', `${clearing.source}:`)) ?? 0)
  }
  return buckets
}
