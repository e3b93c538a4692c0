import type { ClearingList, ClearingRow, ProofPage } from '@culvert/contract'
import { ageOpen, type Proof } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { type BalanceAccount, balanceAccounts, proveBalance, statedAt } from './balanceProof.ts'
import { type ClearingAccount, clearingAccounts, lastDay, ledgerAt } from './clearingAccounts.ts'
import { loadLeads, loadMissing } from './loadLeads.ts'
import { loadProof } from './loadProof.ts'

/** All clearing accounts with their books, what the processor says and what stays unexplained; and what else can be proved. */
export const loadClearingList = async (tx: Transaction): Promise<ClearingList> => {
  const accounts: ClearingRow[] = []
  for (const clearing of await clearingAccounts(tx)) {
    const proof = clearing.shape === 'channel' ? null : await loadProof(tx, clearing, null, true)
    const { name, entries } = await factsOf(tx, clearing)
    accounts.push({
      account: clearing.account,
      name: clearing.name,
      source: clearing.source,
      sourceName: name,
      holdsMoney: clearing.shape !== 'channel',
      currency: clearing.currency,
      entries,
      books: proof?.ledger ?? (await ledgerAt(tx, clearing, '9999-12-31')),
      reported: proof?.reported ?? null,
      reportedOn: proof?.reportedOn ?? null,
      unexplained: proof?.unexplained ?? null,
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

const factsOf = (tx: Transaction, clearing: ClearingAccount) =>
  oneRow<{ name: string; entries: number }>(
    tx,
    sql`
    SELECT name, (SELECT count(*)::int FROM entry_line WHERE client_id = current_client() AND account = ${clearing.account}) AS entries
    FROM source WHERE client_id = current_client() AND source = ${clearing.source}`,
  )

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
  const { name } = await factsOf(tx, clearing)
  const holdsMoney = clearing.shape !== 'channel'
  return {
    account: clearing.account,
    name: clearing.name,
    sort: holdsMoney ? 'clearing' : 'orders',
    source: clearing.source,
    sourceName: name,
    currency: clearing.currency,
    date: on,
    reportedOn: proof?.reportedOn ?? null,
    ledger: proof?.ledger ?? (await ledgerAt(tx, clearing, on)),
    reported: proof?.reported ?? null,
    causes: causesOf(proof, (cause, document) => linkOf(cause, document, clearing)),
    unexplained: proof?.unexplained ?? null,
    leads: proof && proof.unexplained !== 0 ? await leadsOf(tx, clearing, { proof, by: name, on }) : [],
    missing: await loadMissing(tx, clearing, on),
    waterline: {
      books: await booksLine(tx, clearing, on),
      reported: holdsMoney ? await reportedLine(tx, clearing, on) : [],
    },
    ageing: proof ? ageOpen(proof, on) : [0, 0, 0, 0],
  }
}

const balancePage = async (tx: Transaction, of: BalanceAccount, date: string | null): Promise<ProofPage> => {
  const proved = await proveBalance(tx, of, date)
  const { day } = await oneRow<{ day: string }>(
    tx,
    sql`SELECT coalesce(max(day), current_date)::text AS day FROM account_total
      WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency}`,
  )
  const on = proved?.date ?? date ?? day
  const by = proved?.stated.by ?? ''
  return {
    account: of.account,
    name: of.name,
    sort: 'balance',
    source: null,
    sourceName: by,
    currency: of.currency,
    date: on,
    reportedOn: proved?.stated.date ?? null,
    ledger: proved?.ledger ?? (await ledgerAt(tx, of, on)),
    reported: proved?.reported ?? null,
    causes: causesOf(proved, (cause, document) => balanceLinkOf(cause, document)),
    unexplained: proved?.unexplained ?? null,
    leads:
      proved && proved.unexplained !== 0
        ? [
            ...(await loadLeads(
              tx,
              {
                account: of.account,
                currency: of.currency,
                date: on,
                amount: proved.unexplained,
                reported: { amount: proved.reported, by },
              },
              null,
            )),
          ].map(leadRow)
        : [],
    missing: { days: [], statements: [] },
    waterline: { books: await booksLine(tx, of, on), reported: await statedLine(tx, of, on) },
    ageing: proved ? ageOpen(proved, on) : [0, 0, 0, 0],
  }
}

const causesOf = (proof: Proof | null, link: (cause: string, document: string) => string | null): ProofPage['causes'] =>
  (proof?.causes ?? []).map(cause => ({
    cause: cause.cause,
    amount: cause.amount,
    documents: cause.documents.map(document => ({ ...document, link: link(cause.cause, document.name) })),
  }))

const leadRow = (lead: Awaited<ReturnType<typeof loadLeads>>[number]): ProofPage['leads'][number] => ({
  sort: lead.sort,
  movements: [...lead.movements],
  meant: lead.sort === 'swapped_digits' && 'meant' in lead ? (lead.meant as number) : null,
})

const leadsOf = async (
  tx: Transaction,
  clearing: ClearingAccount,
  { proof, by, on }: { proof: Proof; by: string; on: string },
): Promise<ProofPage['leads']> =>
  [
    ...(await loadLeads(
      tx,
      {
        account: clearing.account,
        currency: clearing.currency,
        date: on,
        amount: proof.unexplained,
        reported: { amount: proof.reported, by },
      },
      clearing.source,
    )),
  ].map(leadRow)

/** The page of an entry, of which a name begins with the number. */
const entryLink = (name: string): string => `/books/entries/${/^\d{4}-\d+/.exec(name)?.[0].replace(/-0*/, '-') ?? ''}`

const linkOf = (cause: string, name: string, clearing: ClearingAccount): string | null => {
  if (cause === 'by_hand' || cause === 'double') return entryLink(name)
  if (name === '') return null
  if (cause === 'unpaid_orders' || cause === 'elsewhere') return `order:${name}`
  const [source, day] = splitDay(name)
  return day === null
    ? `/settlements/${clearing.source}/${encodeURIComponent(name)}/${clearing.currency}`
    : `/settlements/${source}/${encodeURIComponent(`day:${day}`)}/${clearing.currency}`
}

const balanceLinkOf = (cause: string, name: string): string | null => {
  if (cause === 'by_hand' || cause === 'double') return entryLink(name)
  return name === '' ? null : `/settlements?filter=${encodeURIComponent(splitDay(name)[1] ?? name)}`
}

/** The source and day that a business day is named by. */
const splitDay = (name: string): [string, string | null] => {
  const match = /^(.+):(\d{4}-\d\d-\d\d)$/.exec(name)
  return match ? [match[1] as string, match[2] as string] : ['', null]
}

/** Days of the books shown before the proof's date. */
const waterlineDays = 120

const booksLine = (tx: Transaction, of: { account: string; currency: string }, date: string) =>
  rowsOf<{ date: string; balance: number }>(
    tx,
    sql`
    SELECT day::text AS date, balance::bigint FROM (
      SELECT day, sum(sum(debit - credit)) OVER (ORDER BY day) AS balance FROM account_total
      WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency} AND day <= ${date}
      GROUP BY day) b
    WHERE day >= ${date}::date - ${waterlineDays}::int ORDER BY day`,
  )

const reportedLine = (tx: Transaction, clearing: ClearingAccount, date: string) =>
  rowsOf<{ date: string; balance: number }>(
    tx,
    sql`
    SELECT date::text, (available + pending + ${clearing.reservesStayOnBalance ? sql`reserve` : sql`0`})::bigint AS balance
    FROM reported_balance WHERE client_id = current_client() AND source = ${clearing.source} AND currency = ${clearing.currency}
      AND date <= ${date} AND date >= ${date}::date - ${waterlineDays}::int ORDER BY date`,
  )

const statedLine = (tx: Transaction, of: BalanceAccount, date: string) =>
  rowsOf<{ date: string; balance: number }>(
    tx,
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
