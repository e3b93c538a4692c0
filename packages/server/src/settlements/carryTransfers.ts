import { carryTransfer, type ForeignBalance } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { NewEntry } from '../ledger/writeEntries.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'

/**
 * Carries transfers out of clearing accounts in other currencies at the base amount of what they close, and books the
 * difference to the rate of their day. Entries come in the order in which they are to be numbered; for clients who have named
 * no account for exchange differences nothing changes. The caller holds the numbers, so no other posting comes between.
 */
export const carryTransfers = async (
  tx: Transaction,
  entries: readonly NewEntry[],
  client: ClientSetup,
): Promise<readonly NewEntry[]> => {
  const { exchangeDifference } = client
  const foreign = entries.flatMap(entry => {
    const clearing = clearingOf(entry, client)
    return clearing === null ? [] : [{ account: clearing, date: entry.date }]
  })
  if (exchangeDifference === null || foreign.length === 0) return entries
  const booked = await loadBalances(tx, foreign)
  const added: { account: string; date: string; amount: number; base: number }[] = []
  return entries.map(entry => {
    const carried = carriedEntry(entry, { client, exchangeDifference, booked, added })
    for (const { account, amount, baseAmount } of carried.lines)
      added.push({ account, date: entry.date, amount, base: baseAmount })
    return carried
  })
}

/** The clearing account of a transfer in another currency than base; null for any other entry. */
const clearingOf = (entry: NewEntry, { setup }: ClientSetup): string | null =>
  entry.document !== 'transfer' || entry.currency === setup.base || entry.source === null
    ? null
    : (setup.sources.get(entry.source)?.clearing[entry.currency] ?? null)

const carriedEntry = (
  entry: NewEntry,
  context: {
    client: ClientSetup
    exchangeDifference: string
    booked: ReadonlyMap<string, ForeignBalance>
    added: readonly { account: string; date: string; amount: number; base: number }[]
  },
): NewEntry => {
  const clearing = clearingOf(entry, context.client)
  if (clearing === null) return entry
  const sum = { ...(context.booked.get(`${clearing} ${entry.date}`) ?? { amount: 0, base: 0 }) }
  for (const one of context.added)
    if (one.account === clearing && one.date <= entry.date) {
      sum.amount += one.amount
      sum.base += one.base
    }
  const { lines } = carryTransfer(
    {
      document: 'transfer',
      date: entry.date,
      currency: entry.currency,
      payoutLine: entry.payoutLine,
      lines: entry.lines,
    },
    { clearing, before: sum, exchangeDifference: context.exchangeDifference },
  )
  return { ...entry, lines }
}

const loadBalances = async (
  tx: Transaction,
  wanted: readonly { account: string; date: string }[],
): Promise<ReadonlyMap<string, ForeignBalance>> => {
  const rows = await rowsOf(
    tx,
    { account: is.text, date: is.date, amount: is.minor, base: is.minor },
    sql`
    SELECT w.account, w.date::text AS date, coalesce(sum(t.debit - t.credit), 0)::bigint AS amount,
      coalesce(sum(t.base_debit - t.base_credit), 0)::bigint AS base
    FROM (SELECT DISTINCT * FROM unnest(${sql.param(wanted.map(one => one.account))}::text[],
      ${sql.param(wanted.map(one => one.date))}::date[]) AS u(account, date)) w
    LEFT JOIN account_total t ON t.client_id = current_client() AND t.account = w.account AND t.day <= w.date
    GROUP BY 1, 2`,
  )
  return new Map(rows.map(({ account, date, ...balance }) => [`${account} ${date}`, balance]))
}
