import type { PullRow, SourceRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const pullJson = sql`json_build_object('pullId', p.pull_id, 'sort', p.sort, 'source', p.source, 'state', p.state, 'startedAt', p.started_at,
  'endedAt', p.ended_at, 'by', u.name, 'done', p.done, 'total', p.total, 'added', p.added, 'revised', p.revised, 'same', p.same,
  'message', p.message)`

/** All sources with how far they are known and what their last pull did. */
export const loadSources = (tx: Transaction): Promise<SourceRow[]> =>
  rowsOf(
    tx,
    {
      source: is.text,
      name: is.text,
      shape: is.oneOf('combined', 'channel', 'gateway'),
      connected: is.yes,
      pulledTo: is.maybe(is.text),
      first: is.maybe(is.text),
      lines: is.whole,
      settlements: is.whole,
      clearing: is.list(is.record({ currency: is.text, account: is.text })),
      lastPull: is.maybe(
        is.record({
          pullId: is.text,
          sort: is.oneOf('pull', 'upload', 'statement', 'bank_pull'),
          source: is.text,
          state: is.oneOf('waiting', 'running', 'cancelling', 'done', 'failed', 'cancelled'),
          startedAt: is.text,
          endedAt: is.maybe(is.text),
          by: is.text,
          done: is.whole,
          total: is.maybe(is.whole),
          added: is.whole,
          revised: is.whole,
          same: is.whole,
          message: is.text,
        }),
      ),
      corrections: is.whole,
    },
    sql`
    SELECT s.source, s.name, s.shape, s.address IS NOT NULL AS connected, s.pulled_to AS "pulledTo",
      (SELECT min(first_date)::text FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS first,
      (SELECT coalesce(sum(lines), 0)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS lines,
      (SELECT count(*)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS settlements,
      (SELECT coalesce(sum(corrections), 0)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source AND k.state = 'posted') AS corrections,
      (SELECT coalesce(json_agg(json_build_object('currency', c.currency, 'account', c.account)), '[]') FROM source_clearing c
        WHERE c.client_id = s.client_id AND c.source = s.source) AS clearing,
      (SELECT ${pullJson} FROM pull p JOIN app_user u ON u.user_id = p."by" WHERE p.client_id = s.client_id AND p.source = s.source
        ORDER BY p.started_at DESC LIMIT 1) AS "lastPull"
    FROM source s WHERE s.client_id = current_client() ORDER BY s.name`,
  )

/** The pull log, the latest first; of one source, or of all. */
export const loadPulls = async (tx: Transaction, source: string | null): Promise<PullRow[]> => {
  const rows = await rowsOf(
    tx,
    {
      pull: is.record({
        pullId: is.text,
        sort: is.oneOf('pull', 'upload', 'statement', 'bank_pull'),
        source: is.text,
        state: is.oneOf('waiting', 'running', 'cancelling', 'done', 'failed', 'cancelled'),
        startedAt: is.text,
        endedAt: is.maybe(is.text),
        by: is.text,
        done: is.whole,
        total: is.maybe(is.whole),
        added: is.whole,
        revised: is.whole,
        same: is.whole,
        message: is.text,
      }),
    },
    sql`
    SELECT ${pullJson} AS pull FROM pull p JOIN app_user u ON u.user_id = p."by"
    WHERE p.client_id = current_client() ${source === null ? sql`` : sql`AND p.source = ${source}`}
    ORDER BY p.started_at DESC LIMIT 50`,
  )
  return rows.map(row => row.pull)
}
