import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { isBooked, isSumBooked, movesClearing, revisionAsOf } from './storedLines.ts'

/** A source on a clearing account, with what decides how its balance is read. */
export interface SourceOnAccount {
  readonly source: string
  readonly name: string
  readonly shape: 'combined' | 'channel' | 'gateway'
  readonly payoutsLeaveBalance: 'sent' | 'arrived'
  readonly reservesStayOnBalance: boolean
  readonly splitAtMonthEnd: boolean
}

/** A clearing account, and the sources whose balance it mirrors: it is proved once, against their sum. */
export interface ClearingAccount {
  readonly account: string
  readonly name: string
  readonly currency: string
  readonly sources: readonly SourceOnAccount[]
}

/** A channel holds no money: an account of channels alone is the control of their orders. */
export const holdsMoney = ({ sources }: ClearingAccount): boolean => sources.some(one => one.shape !== 'channel')

/** Who says what the account holds, for a person. */
export const sayersOf = ({ sources }: ClearingAccount): string => sources.map(one => one.name).join(', ')

export const clearingAccounts = (tx: Transaction): Promise<ClearingAccount[]> =>
  rowsOf(
    tx,
    {
      account: is.text,
      name: is.text,
      currency: is.text,
      sources: is.list(
        is.record({
          source: is.text,
          name: is.text,
          shape: is.oneOf('combined', 'channel', 'gateway'),
          payoutsLeaveBalance: is.oneOf('sent', 'arrived'),
          reservesStayOnBalance: is.yes,
          splitAtMonthEnd: is.yes,
        }),
      ),
    },
    sql`
    SELECT c.account, a.name, c.currency, json_agg(json_build_object('source', c.source, 'name', s.name, 'shape', s.shape,
      'payoutsLeaveBalance', coalesce(s.options->>'payoutsLeaveBalance', 'sent'),
      'reservesStayOnBalance', coalesce((s.options->>'reservesStayOnBalance')::boolean, false),
      'splitAtMonthEnd', coalesce((s.options->>'splitAtMonthEnd')::boolean, false)) ORDER BY c.source) AS sources
    FROM source_clearing c JOIN account a ON a.code = c.account AND a.client_id = c.client_id
    JOIN source s ON s.source = c.source AND s.client_id = c.client_id
    WHERE c.client_id = current_client() GROUP BY c.account, a.name, c.currency ORDER BY c.account`,
  )

/** What one of those who speak for an account said last. */
export interface SaidPart extends Reported {
  readonly source: string
  readonly name: string
}

/** What the sources of an account said last, on or before a date. */
export interface Reported {
  /** The day on which all of them have spoken: the earliest of their last reports. */
  readonly date: string
  readonly amount: number
}

/**
 * What the sources of an account report together, each its last balance on or before a date; of a channel what its orders leave open. Null
 * where one of them never reported. Without a date, at the last day of which all have reported.
 */
export const reportedAt = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string | null,
): Promise<Reported | null> => {
  const channels = clearing.sources.filter(one => one.shape === 'channel')
  const processors = clearing.sources.filter(one => one.shape !== 'channel')
  if (processors.length === 0) {
    const on = date ?? (await lastDay(tx, clearing))
    return { date: on, amount: await ordersOpen(tx, clearing, { channels, date: on }) }
  }
  const wanted = date ?? (await lastOfAll(tx, clearing, processors))
  if (wanted === null) return null
  const parts = await saidParts(tx, clearing, wanted)
  if (parts.length < processors.length) return null
  const [first] = parts.map(part => part.date).sort()
  return first === undefined
    ? null
    : {
        date: first,
        amount: sumMinor(parts, part => part.amount) + (await ordersOpen(tx, clearing, { channels, date: wanted })),
      }
}

/** What each processor of an account said last on or before a date; those who said nothing are left out. */
export const saidParts = async (tx: Transaction, clearing: ClearingAccount, date: string): Promise<SaidPart[]> => {
  const parts: SaidPart[] = []
  for (const processor of clearing.sources.filter(one => one.shape !== 'channel')) {
    const said = await saidBy(tx, clearing, processor, date)
    if (said) parts.push({ ...said, source: processor.source, name: processor.name })
  }
  return parts
}

const lastOfAll = async (
  tx: Transaction,
  { currency }: ClearingAccount,
  processors: readonly SourceOnAccount[],
): Promise<string | null> => {
  const { date } = await oneRow(
    tx,
    { date: is.maybe(is.date) },
    sql`SELECT CASE WHEN count(*) = ${processors.length} THEN min(last)::text END AS date FROM (
      SELECT source, max(date) AS last FROM reported_balance
      WHERE client_id = current_client() AND currency = ${currency} AND source = ANY(${namesOf(processors)}::text[]) GROUP BY source) said`,
  )
  return date
}

const saidBy = async (
  tx: Transaction,
  { currency }: ClearingAccount,
  processor: SourceOnAccount,
  date: string,
): Promise<Reported | undefined> => {
  const [row] = await rowsOf(
    tx,
    { date: is.date, amount: is.minor },
    sql`
    SELECT date::text, available + pending + ${processor.reservesStayOnBalance ? sql`reserve` : sql`0`} AS amount
    FROM reported_balance WHERE client_id = current_client() AND source = ${processor.source} AND currency = ${currency}
      AND date <= ${date} ORDER BY date DESC LIMIT 1`,
  )
  return row
}

/** Names of sources as a parameter. */
export const namesOf = (sources: readonly { readonly source: string }[]) => sql.param(sources.map(one => one.source))

/** Lines of channels, alias `l`, that count in what their orders leave open. */
export const countsInOrders = (channels: readonly SourceOnAccount[]) => {
  const late = channels.filter(one => one.payoutsLeaveBalance === 'arrived')
  return sql`${isBooked} AND ${revisionAsOf('now')} AND ${movesClearing}
    AND NOT (l.source = ANY(${namesOf(late)}::text[]) AND ${kindIs('payout')})`
}

interface OrdersAt {
  readonly channels: readonly SourceOnAccount[]
  readonly date: string
}

const ordersOpen = async (tx: Transaction, { currency }: ClearingAccount, at: OrdersAt): Promise<number> => {
  const { channels, date } = at
  if (channels.length === 0) return 0
  const late = channels.filter(one => one.payoutsLeaveBalance === 'arrived')
  const { amount } = await oneRow(
    tx,
    { amount: is.minor },
    sql`
    SELECT coalesce(sum(a.amount), 0)::bigint AS amount FROM activity_sum a
    WHERE a.client_id = current_client() AND a.source = ANY(${namesOf(channels)}::text[]) AND a.currency = ${currency} AND a.local_date <= ${date}
      AND a.part <> 'stock' AND NOT (a.part = 'payout' AND a.source = ANY(${namesOf(late)}::text[])) AND ${isSumBooked}`,
  )
  return amount
}

/** Balance of an account in the books at the end of a date, minor units of its currency, debit positive. */
export const ledgerAt = async (
  tx: Transaction,
  clearing: { account: string; currency: string },
  date: string,
): Promise<number> => {
  const [row] = await rowsOf(
    tx,
    { amount: is.maybe(is.minor) },
    sql`
    SELECT sum(debit - credit)::bigint AS amount FROM account_total
    WHERE client_id = current_client() AND account = ${clearing.account} AND currency = ${clearing.currency} AND day <= ${date}`,
  )
  return row?.amount ?? 0
}

/** The same from the entries themselves: what the kept totals are held against. */
export const ledgerByLines = async (
  tx: Transaction,
  clearing: { account: string; currency: string },
  date: string,
): Promise<number> => {
  const { amount } = await oneRow(
    tx,
    { amount: is.minor },
    sql`
    SELECT coalesce(sum(amount), 0)::bigint AS amount FROM entry_line
    WHERE client_id = current_client() AND account = ${clearing.account} AND currency = ${clearing.currency} AND date <= ${date}`,
  )
  return amount
}

/** The last day on which anything moved the account, or will once it is posted. */
export const lastDay = async (tx: Transaction, clearing: ClearingAccount): Promise<string> => {
  const { day } = await oneRow(
    tx,
    { day: is.date },
    sql`SELECT coalesce(greatest((SELECT max(day) FROM account_total WHERE client_id = current_client() AND account = ${clearing.account}),
      (SELECT max(last_date) FROM settlement WHERE client_id = current_client() AND source = ANY(${namesOf(clearing.sources)}::text[]))),
      clock_now()::date)::text AS day`,
  )
  return day
}
