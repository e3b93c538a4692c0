import { type PullRow, pullSorts, type SourceRow, serviceSorts } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { jobShape } from '../jobs/loadJobs.ts'

const pullJson = sql`json_build_object('jobId', p.job_id, 'sort', p.sort, 'subject', p.subject, 'state', p.state, 'startedAt', p.started_at,
  'endedAt', p.ended_at, 'by', u.name, 'done', p.done, 'total', p.total, 'added', p.added, 'revised', p.revised, 'same', p.same,
  'message', p.message,
  'takenBackAt', p.taken_back_at)`

// Times as JSON has them: ISO 8601.
const grantJson = sql`(SELECT json_build_object('grantId', g.grant_id, 'service', g.name, 'by', CASE WHEN g.link_hash IS NULL THEN g.asked_name END,
  'grantedAt', g.granted_at, 'until', g.until, 'ended', g.ended) FROM service_grant g WHERE g.client_id = s.client_id AND g.grant_id = s.grant_id)`

const readPull = is.record({
  ...jobShape,
  sort: is.oneOf(...pullSorts),
  added: is.whole,
  revised: is.whole,
  same: is.whole,
  takenBackAt: is.maybe(is.text),
})
const isPull = sql`p.sort = ANY(${sql.param([...pullSorts])}::text[])`

/** All sources with how far they are known and what their last pull did. */
export const loadSources = (tx: Transaction): Promise<SourceRow[]> =>
  rowsOf(
    tx,
    {
      source: is.text,
      name: is.text,
      service: is.maybe(is.oneOf(...serviceSorts)),
      shape: is.oneOf('combined', 'channel', 'gateway'),
      connected: is.yes,
      grant: is.maybe(
        is.record({
          grantId: is.text,
          service: is.text,
          by: is.maybe(is.text),
          grantedAt: is.text,
          until: is.maybe(is.text),
          ended: is.maybe(is.text),
        }),
      ),
      pulledTo: is.maybe(is.text),
      first: is.maybe(is.text),
      lines: is.whole,
      settlements: is.whole,
      clearing: is.list(is.record({ currency: is.text, account: is.text })),
      lastPull: is.maybe(readPull),
      corrections: is.whole,
      bookedFrom: is.maybe(is.text),
    },
    sql`
    SELECT s.source, s.name, s.service, s.shape, s.address IS NOT NULL OR s.grant_id IS NOT NULL AS connected,
      ${grantJson} AS grant, s.pulled_to AS "pulledTo",
      (SELECT min(first_date)::text FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS first,
      (SELECT coalesce(sum(lines), 0)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS lines,
      (SELECT count(*)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source) AS settlements,
      (SELECT coalesce(sum(corrections), 0)::int FROM settlement k WHERE k.client_id = s.client_id AND k.source = s.source AND k.state = 'posted') AS corrections, s.options->>'bookedFrom' AS "bookedFrom",
      (SELECT coalesce(json_agg(json_build_object('currency', c.currency, 'account', c.account)), '[]') FROM source_clearing c
        WHERE c.client_id = s.client_id AND c.source = s.source) AS clearing,
      (SELECT ${pullJson} FROM job p JOIN app_user u ON u.user_id = p."by" WHERE p.client_id = s.client_id AND p.subject = s.source AND p.sort IN ('pull', 'upload')
        ORDER BY p.ordinal DESC LIMIT 1) AS "lastPull"
    FROM source s WHERE s.client_id = current_client() ORDER BY s.name`,
  )

/** The pull log, the latest first; of one source, or of all. */
export const loadPulls = async (tx: Transaction, source: string | null): Promise<PullRow[]> => {
  const rows = await rowsOf(
    tx,
    {
      pull: readPull,
    },
    sql`
    SELECT ${pullJson} AS pull FROM job p JOIN app_user u ON u.user_id = p."by"
    WHERE p.client_id = current_client() AND ${isPull} ${source === null ? sql`` : sql`AND p.subject = ${source}`}
    ORDER BY p.ordinal DESC LIMIT 50`,
  )
  return rows.map(row => row.pull)
}
