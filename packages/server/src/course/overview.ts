import type { Overview } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** What the page of all clients says of one. Nothing is counted here: the course tells what waits. */
export const loadOverview = async (tx: Transaction): Promise<Overview> => {
  const facts = await oneRow(
    tx,
    {
      lastCame: is.maybe(is.text),
      running: is.whole,
      closedTo: is.maybe(is.text),
      at: is.text,
      lines: is.whole,
      sources: is.whole,
      statements: is.whole,
      revised: is.whole,
    },
    sql`
    WITH came AS (SELECT * FROM job WHERE client_id = current_client() AND state = 'done'
      AND sort IN ('pull', 'upload', 'bank_pull', 'statement') AND ended_at > clock_now() - interval '24 hours')
    SELECT (SELECT max(ended_at)::text FROM job WHERE client_id = current_client() AND state = 'done'
        AND sort IN ('pull', 'upload', 'bank_pull', 'statement')) AS "lastCame",
      (SELECT count(*)::int FROM job WHERE client_id = current_client() AND state IN ('waiting', 'running', 'cancelling')) AS running,
      (SELECT max(month) FROM period p WHERE p.client_id = current_client() AND p.locked AND NOT EXISTS (SELECT FROM period o
        WHERE o.client_id = p.client_id AND o.month < p.month AND NOT o.locked)) AS "closedTo",
      (clock_now() - interval '24 hours')::text AS at,
      (SELECT coalesce(sum(added + revised), 0)::int FROM came WHERE sort IN ('pull', 'upload')) AS lines,
      (SELECT count(DISTINCT subject)::int FROM came WHERE sort IN ('pull', 'upload') AND added + revised > 0) AS sources,
      (SELECT count(*)::int FROM came WHERE sort IN ('bank_pull', 'statement') AND added > 0) AS statements,
      (SELECT coalesce(sum(revised), 0)::int FROM came WHERE sort IN ('pull', 'upload')) AS revised`,
  )
  const { lastCame, running, closedTo, ...since } = facts
  return { lastCame, running, closedTo, since, heaviest: await loadHeaviest(tx) }
}

const loadHeaviest = async (tx: Transaction): Promise<Overview['heaviest']> => {
  const [failed] = await rowsOf(
    tx,
    { source: is.text, message: is.text },
    sql`
    SELECT s.source, j.message FROM source s CROSS JOIN LATERAL (SELECT state, message FROM job j WHERE j.client_id = s.client_id
      AND j.subject = s.source AND j.sort IN ('pull', 'upload') ORDER BY j.ordinal DESC LIMIT 1) j
    WHERE s.client_id = current_client() AND j.state = 'failed' ORDER BY s.source LIMIT 1`,
  )
  const [blocked] = await rowsOf(
    tx,
    { source: is.text, key: is.text, currency: is.text, reason: is.maybe(is.text), since: is.maybe(is.date) },
    sql`
    SELECT source, key, currency, blocks->0->>'reason' AS reason, first_date::text AS since FROM settlement
    WHERE client_id = current_client() AND state = 'blocked' ORDER BY abs(gross) DESC, source, key LIMIT 1`,
  )
  const [unpaired] = await rowsOf(
    tx,
    { account: is.text, description: is.text, since: is.date },
    sql`
    SELECT b.bank_account AS account, b.description, b.date::text AS since FROM open_bank_line o
    JOIN bank_line b ON b.client_id = o.client_id AND b.bank_account = o.bank_account AND b.line_id = o.line_id
    WHERE o.client_id = current_client() ORDER BY abs(b.amount) DESC, b.line_id LIMIT 1`,
  )
  return [
    ...(failed
      ? [
          {
            stage: 'sources' as const,
            title: failed.source,
            reason: failed.message,
            since: null,
            link: `/sources/${encodeURIComponent(failed.source)}`,
          },
        ]
      : []),
    ...(blocked
      ? [
          {
            stage: 'settlements' as const,
            title: blocked.key,
            reason: blocked.reason,
            since: blocked.since,
            link: `/settlements/${encodeURIComponent(blocked.source)}/${encodeURIComponent(blocked.key)}/${blocked.currency}`,
          },
        ]
      : []),
    ...(unpaired
      ? [
          {
            stage: 'bank' as const,
            title: unpaired.description || unpaired.account,
            reason: null,
            since: unpaired.since,
            link: `/bank/${encodeURIComponent(unpaired.account)}?around=${unpaired.since}`,
          },
        ]
      : []),
  ]
}
