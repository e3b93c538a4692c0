import { type SQL, sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { type CountsBy, countsBy, countsByShape, isSameCounting } from './countsBy.ts'
import { keyShape, type SettlementKey } from './settlementKey.ts'
import { stagedColumns, stagedFrom } from './stageActivity.ts'

export interface Merged {
  readonly added: number
  readonly revised: number
  readonly same: number
  /** Settlements and days that got new or changed lines. */
  readonly touched: readonly SettlementKey[]
}

/** The pull that lines are merged under; `first` when the source had none before. */
export interface MergePull {
  readonly source: string
  readonly pullNo: number
  readonly first: boolean
  /** Whether any file of the source was ever taken back. */
  readonly takenBack: boolean
}

/**
 * Holds the source's row, so that two pulls of one source come one after the other. @throws Refused where by what its lines count is another meanwhile than
 * they were read by
 */
export const beginMerge = async (tx: Transaction, source: string, readBy: CountsBy): Promise<MergePull> => {
  const { last, options, takenBack } = await oneRow(
    tx,
    { last: is.whole, options: is.record(countsByShape), takenBack: is.yes },
    sql`
    SELECT last_pull AS last, options, EXISTS (SELECT FROM job j WHERE j.client_id = source.client_id
      AND j.subject = source.source AND j.taken_back_at IS NOT NULL) AS "takenBack"
    FROM source WHERE client_id = current_client() AND source = ${source} FOR NO KEY UPDATE`,
  )
  if (!isSameCounting(countsBy(options), readBy)) throw new Refused('basis_moved')
  await tx.execute(sql`
    CREATE TEMPORARY TABLE changed (line_id text, revision int, old_key text, old_currency char(3), same boolean, stands boolean)
    ON COMMIT DROP`)
  await tx.execute(sql`
    CREATE TEMPORARY TABLE week_change ON COMMIT DROP AS
    SELECT kind, category, region, currency, week, amount, lines FROM activity_week WHERE false`)
  return { source, pullNo: last + 1, first: last === 0, takenBack }
}

/** Numbers the pull once it has stored something, and adds to the weeks what it changed in them. */
export const endMerge = async (tx: Transaction, { source, pullNo }: MergePull): Promise<void> => {
  await tx.execute(
    sql`UPDATE source SET last_pull = ${pullNo} WHERE client_id = current_client() AND source = ${source}`,
  )
  await tx.execute(sql`
    INSERT INTO activity_week (client_id, source, kind, category, region, currency, week, amount, lines)
    SELECT current_client(), ${source}, kind, category, region, currency, week, sum(amount), sum(lines)
    FROM week_change GROUP BY 3, 4, 5, 6, 7 ORDER BY 3, 4, 5, 6, 7
    ON CONFLICT (client_id, source, kind, category, region, currency, week) DO UPDATE SET
      amount = activity_week.amount + excluded.amount, lines = activity_week.lines + excluded.lines`)
}

/**
 * Moves the staged lines into the activity and empties the stage: new ones as revision 1, changed ones as the next
 * revision, the rest not at all. An id may be staged once in a pull.
 */
export const mergeStaged = async (tx: Transaction, pull: MergePull): Promise<Merged> => {
  const { source, pullNo } = pull
  // A source's first lines meet no others: nothing is looked up for them.
  if (!pull.first) await findChanged(tx, pull)
  const { same, revised, known, total } = await oneRow(
    tx,
    { same: is.whole, revised: is.whole, known: is.whole, total: is.whole },
    sql`
    SELECT count(*) FILTER (WHERE same)::int AS same, count(*) FILTER (WHERE stands AND NOT same)::int AS revised,
      count(*)::int AS known, (SELECT count(*)::int FROM incoming) AS total FROM changed`,
  )
  const touched = same === total ? [] : await findTouched(tx, source)
  if (same < total) await insertLines(tx, { source, pullNo, revised, known })
  await tx.execute(sql`TRUNCATE incoming, changed`)
  return { added: total - same - revised, revised, same, touched }
}

// The digest is of what the source said; the moment, its day and the status are by what its lines count.
// Line by line through the key, not by a join: the planner knows nothing yet of what was staged a moment ago.
// What was taken back with its file is there no more: the same line is new again, as its next revision. Asked only where anything was.
const findChanged = (tx: Transaction, { source, takenBack }: MergePull) =>
  tx.execute(sql`
    INSERT INTO changed
    SELECT c.line_id, c.revision, c.settlement_key, c.currency, c.same AND c.stands, c.stands FROM (
    SELECT i.line_id, l.revision, l.settlement_key, l.currency,
      (l.content_hash, l.occurred_at, l.status, l.local_date, l.settlement_key)
        = (i.content_hash, i.occurred_at, i.status, i.local_date, i.settlement_key) AS same,
      ${
        takenBack
          ? sql`NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = current_client() AND x.source = ${source}
        AND x.line_id = i.line_id AND x.revision = l.revision)`
          : sql`true`
      } AS stands
    FROM incoming i CROSS JOIN LATERAL (
      SELECT revision, settlement_key, currency, content_hash, occurred_at, status, local_date FROM activity_line l
      WHERE l.client_id = current_client() AND l.source = ${source} AND l.line_id = i.line_id
      ORDER BY l.revision DESC LIMIT 1) l) c`)

const findTouched = (tx: Transaction, source: string) =>
  rowsOf(
    tx,
    keyShape,
    sql`
    SELECT DISTINCT ${source}::text AS source, key, currency FROM (
      SELECT i.settlement_key AS key, i.currency FROM incoming i LEFT JOIN changed c USING (line_id) WHERE c.same IS NOT TRUE
      UNION ALL SELECT old_key, old_currency FROM changed WHERE stands AND NOT same) k`,
  )

const insertLines = async (
  tx: Transaction,
  { source, pullNo, revised, known }: { source: string; pullNo: number; revised: number; known: number },
): Promise<void> => {
  await countWeeks(tx, source, { revised, known })
  // Where none was known there is nothing to join: the planner would sort both sides for it.
  const revision = known === 0 ? sql`1` : sql`coalesce(c.revision, 0) + 1`
  await tx.execute(sql`
    INSERT INTO activity_line (client_id, source, revision, pull_no, ${stagedColumns})
    SELECT current_client(), ${source}, ${revision}, ${pullNo}, ${stagedFrom('i')} ${freshLines(known)}`)
  await tx.execute(sql`
    INSERT INTO tender_label (client_id, channel, label)
    SELECT DISTINCT current_client(), ${source}, gateway FROM incoming
    WHERE ${kindIs('tender', 'kind')} AND gateway IS NOT NULL ORDER BY 3 ON CONFLICT DO NOTHING`)
  if (revised > 0)
    await tx.execute(sql`
      INSERT INTO activity_superseded (client_id, source, line_id, revision, pull_no)
      SELECT current_client(), ${source}, line_id, revision, ${pullNo} FROM changed WHERE stands AND NOT same`)
}

/** Staged lines that are new or changed, as `i`; where any was known before, that as `c`. */
const freshLines = (known: number): SQL =>
  known === 0
    ? sql`FROM incoming i WHERE true`
    : sql`FROM incoming i LEFT JOIN changed c ON c.line_id = i.line_id WHERE c.same IS NOT TRUE`

// Whole days from a Monday: date_trunc goes by way of a time with zone, and took longer than the insert's row.
const mondayOf = (date: SQL): SQL => sql`${date} - ((${date} - date '0001-01-01') % 7)`

// Kept by difference: what the mapping page shows of 13 weeks must not add up a million lines each time. Gathered chunk by chunk
// and added once, at the end: each chunk touches most weeks.
const countWeeks = (
  tx: Transaction,
  source: string,
  { revised, known }: { revised: number; known: number },
): Promise<unknown> => {
  const old = sql`UNION ALL SELECT l.kind, l.category, l.region, l.currency, l.local_date, -l.amount, -1
    FROM changed c JOIN activity_line l ON l.client_id = current_client() AND l.source = ${source}
      AND l.line_id = c.line_id AND l.revision = c.revision WHERE c.stands AND NOT c.same AND l.status <> 'failed'`
  return tx.execute(sql`
    INSERT INTO week_change (kind, category, region, currency, week, amount, lines)
    SELECT kind, coalesce(category, ''), coalesce(region, ''), currency, ${mondayOf(sql`local_date`)}, sum(amount), sum(one)
    FROM (SELECT i.kind, i.category, i.region, i.currency, i.local_date, i.amount, 1 AS one
      ${freshLines(known)} AND i.status <> 'failed' ${revised > 0 ? old : sql``}) m
    GROUP BY 1, 2, 3, 4, 5`)
}
