import type { ClearingList, ClearingRow, ProofPage } from '@culvert/contract'
import { ageOpen, type Proof } from '@culvert/core'
import { sql } from 'drizzle-orm'
import {
  type ClearingAccount,
  clearingAccounts,
  holdsMoney,
  lastDay,
  ledgerAt,
  sayersOf,
} from '../activity/clearingAccounts.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type BalanceAccount, balanceAccounts, clearsAlone, statedAt } from './balanceAccounts.ts'
import { proveBalance } from './balanceProof.ts'
import { loadLeads } from './loadLeads.ts'
import { loadOpenOrders } from './loadOpenOrders.ts'
import { loadProof } from './loadProof.ts'
import { loadMissing } from './proofFacts.ts'
import { booksLine, reportedLine, statedLine } from './waterlines.ts'

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
    if (clearsAlone(of)) {
      accounts.push(await aloneRow(tx, of))
      continue
    }
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

/** A clearing account that no source has, held against nought or a balance that somebody confirmed. */
const aloneRow = async (tx: Transaction, of: BalanceAccount): Promise<ClearingRow> => {
  const proof = await proveBalance(tx, of, null)
  return {
    ...{ account: of.account, name: of.name, currency: of.currency, sourceName: 'no source', holdsMoney: true },
    entries: await countEntries(tx, of),
    books: proof?.ledger ?? (await ledgerAt(tx, of, '9999-12-31')),
    reported: proof?.reported ?? null,
    reportedOn: proof?.stated.date ?? null,
    unexplained: proof?.unexplained ?? null,
    outcome: proof?.outcome ?? null,
  }
}

const countEntries = async (tx: Transaction, { account }: { readonly account: string }): Promise<number> =>
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
    rowsAside: [...(proof?.rowsAside ?? [])],
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
    rowsAside: [],
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
