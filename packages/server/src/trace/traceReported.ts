import type { Trace, TraceStart, TraceStep } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { clearingAccounts, holdsMoney, reportedAt, saidParts } from '../activity/clearingAccounts.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

type Start = Extract<TraceStart, { at: 'reported' }>
type Said = TraceStep['items'][number]

/** Who said what an account holds, and when, up to a date: its processors, what its channels' orders leave open, or whoever stated it. Null where nobody did. */
export const traceReported = async (tx: Transaction, start: Start): Promise<Trace | null> => {
  const parts = (await saidOfClearing(tx, start)) ?? (await saidOfBalance(tx, start))
  if (parts.length === 0) return null
  const amount = parts.reduce((sum, part) => sum + (part.amount ?? 0), 0)
  const step: TraceStep = {
    ...{ sort: 'balance', here: true, count: parts.length, amount, currency: start.currency, items: parts },
    title: 'What it is said to hold',
    detail: `as last said up to ${start.date}`,
    link: `/clearing/${encodeURIComponent(start.account)}`,
  }
  return { title: `Reported of ${start.account}`, amount, currency: start.currency, steps: [step] }
}

const saidOfClearing = async (tx: Transaction, start: Start): Promise<Said[] | null> => {
  const clearing = (await clearingAccounts(tx)).find(
    one => one.account === start.account && one.currency === start.currency,
  )
  if (!clearing) return null
  const all = await reportedAt(tx, clearing, start.date)
  if (!all) return []
  const parts = holdsMoney(clearing) ? await saidParts(tx, clearing, start.date) : []
  const open = all.amount - parts.reduce((sum, part) => sum + part.amount, 0)
  const channels = clearing.sources.filter(one => one.shape === 'channel').map(one => one.name)
  return [
    ...parts.map(({ name, date, amount, source }) => ({
      title: name,
      detail: `said on ${date}`,
      amount,
      link: `/sources/${encodeURIComponent(source)}`,
    })),
    ...(channels.length > 0
      ? [{ title: channels.join(', '), detail: 'what their orders leave open', amount: open, link: '/payments' }]
      : []),
  ]
}

const saidOfBalance = async (tx: Transaction, start: Start): Promise<Said[]> => {
  const reserves = await rowsOf(
    tx,
    { source: is.text, name: is.text, date: is.date, amount: is.minor },
    sql`
    SELECT s.source, s.name, b.date::text, b.reserve AS amount FROM source s
    JOIN LATERAL (SELECT date, reserve FROM reported_balance r WHERE r.client_id = s.client_id AND r.source = s.source
      AND r.currency = ${start.currency} AND date <= ${start.date} ORDER BY date DESC LIMIT 1) b ON true
    WHERE s.client_id = current_client() AND EXISTS (SELECT FROM activity_week w WHERE w.client_id = s.client_id
        AND w.source = s.source AND w.kind = 'reserve_kept')
      AND EXISTS (SELECT FROM route o WHERE o.client_id = s.client_id AND o.kind = 'reserve_kept' AND o.account = ${start.account}
        AND coalesce(o.source, s.source) = s.source)
    ORDER BY s.name`,
  )
  const [stated] = await rowsOf(
    tx,
    { date: is.date, amount: is.minor },
    sql`SELECT date::text, amount FROM stated_balance WHERE client_id = current_client() AND account = ${start.account}
      AND currency = ${start.currency} AND date <= ${start.date} ORDER BY date DESC LIMIT 1`,
  )
  const lastSaid = reserves
    .map(one => one.date)
    .sort()
    .at(-1)
  if (lastSaid !== undefined && (!stated || stated.date < lastSaid))
    return reserves.map(({ name, date, amount, source }) => ({
      title: name,
      detail: `kept back, said on ${date}`,
      amount,
      link: `/sources/${encodeURIComponent(source)}`,
    }))
  return stated
    ? [{ title: 'Entered on its page', detail: `as at ${stated.date}`, amount: stated.amount, link: null }]
    : []
}
