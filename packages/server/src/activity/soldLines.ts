import { type SQL, sql } from 'drizzle-orm'
import { revisionAsOf } from './storedLines.ts'

/** Days looked back from a source's last line: 13 weeks. */
const daysBack = 90
/** Sales looked at per source, the latest first: what a page reads is bounded. The page says from which day on they are. */
const mostLines = 8000

/** Sales of the last weeks up to a day that name a product, as rows `l`; of a source, given as SQL. */
export const soldLines = (source: SQL, latest: SQL): SQL =>
  sql`(SELECT l.* FROM line_as_of l WHERE l.client_id = current_client() AND l.source = ${source} AND l.kind = 'sale'
    AND l.local_date >= ${latest} - ${daysBack}::int ORDER BY l.local_date DESC LIMIT ${mostLines}) l
  WHERE coalesce(l.sku, l.description, '') <> '' AND l.status <> 'failed' AND ${revisionAsOf('now')}`
