import { type ActList, type ActRow, type actsQuery, partsOfKey, type Subject } from '@culvert/contract'
import { type SQL, sql } from 'drizzle-orm'
import type { z } from 'zod'
import { keyShape, subjectOfSettlement } from '../activity/settlementKey.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { factsReader } from './factsReader.ts'

type Asked = z.output<typeof actsQuery>

/** Objects that a list shows of an act; its own page shows all. */
const shown = 4

const objectReader = is.list(
  is.record({ subject: is.text, key: is.text, before: is.maybe(factsReader), after: is.maybe(factsReader) }),
)
const rowShape = {
  actId: is.text,
  sort: is.text,
  at: is.text,
  by: is.whole,
  name: is.text,
  note: is.text,
  count: is.whole,
  objects: objectReader,
  seq: is.maybe(is.whole),
}

/** Acts `a` with their people, and at most so many of their objects. */
const actRows = (objects: number, which: SQL): SQL => sql`
  SELECT a.act_id AS "actId", a.sort, a.at::text, a."by", CASE WHEN a."by" = 0 THEN '' ELSE coalesce(u.name, '') END AS name, a.note,
    (SELECT count(*)::int FROM act_object o WHERE o.client_id = a.client_id AND o.act_id = a.act_id) AS count,
    (SELECT coalesce(json_agg(json_build_object('subject', o.subject, 'key', o.key, 'before', o.before, 'after', o.after) ORDER BY o.no), '[]')
      FROM (SELECT * FROM act_object o WHERE o.client_id = a.client_id AND o.act_id = a.act_id ORDER BY o.no LIMIT ${objects}) o) AS objects,
    s.seq
  FROM act a LEFT JOIN app_user u ON u.user_id = a."by" LEFT JOIN act_seal s ON s.client_id = a.client_id AND s.act_id = a.act_id
  WHERE a.client_id = current_client() AND ${which}`

const toRow = ({ by, name, at, ...row }: Awaited<ReturnType<typeof loadRows>>[number]): ActRow => ({
  ...row,
  at: new Date(at).toISOString(),
  by: { id: by, name },
})
const loadRows = (tx: Transaction, statement: SQL) => rowsOf(tx, rowShape, statement)

/** Acts that touched a thing: of an entry also what posted it and took it back; of a line what was done to its settlement. */
const touching = async (tx: Transaction, of: { readonly subject: Subject; readonly key: string }): Promise<SQL> => {
  const objects = (keys: readonly (readonly [Subject, string])[]): SQL => sql`SELECT o.act_id FROM act_object o
    JOIN unnest(${sql.param(keys.map(one => one[0]))}::text[], ${sql.param(keys.map(one => one[1]))}::text[]) AS k(subject, key)
      ON o.subject = k.subject AND o.key = k.key WHERE o.client_id = current_client()`
  if (of.subject === 'entry') {
    const [year, number] = of.key.split('-').map(part => Number.parseInt(part, 10) || 0)
    return sql`${objects([['entry', of.key]])} UNION SELECT e.act_id FROM entry e WHERE e.client_id = current_client()
      AND ((e.fiscal_year = ${year} AND e.number = ${number}) OR (e.reverses_year = ${year} AND e.reverses_number = ${number}))`
  }
  if (of.subject !== 'line') return objects([[of.subject, of.key]])
  const [source = '', line = ''] = partsOfKey(of.key)
  const settlements = await rowsOf(
    tx,
    keyShape,
    sql`SELECT DISTINCT source, settlement_key AS key, currency FROM activity_line
      WHERE client_id = current_client() AND source = ${source} AND line_id = ${line}`,
  )
  return objects([
    ['line', of.key],
    ['payment', of.key],
    ...settlements.map(one => ['settlement', subjectOfSettlement(one)] as const),
  ])
}

/** When a local day of the client begins. */
const begins = (day: SQL): SQL =>
  sql`(${day})::timestamp AT TIME ZONE (SELECT time_zone FROM client WHERE client_id = current_client())`

/** Who did what, the latest first. */
export const loadActs = async (tx: Transaction, asked: Asked): Promise<ActList> => {
  const { subject, key, by, sort, from, to } = asked
  const which = sql.join(
    [
      subject !== undefined && key !== undefined
        ? sql`a.act_id IN (${await touching(tx, { subject, key })})`
        : sql`true`,
      by === undefined ? sql`true` : sql`a."by" = ${by}`,
      sort === undefined ? sql`true` : sql`a.sort = ${sort}`,
      from === undefined ? sql`true` : sql`a.at >= ${begins(sql`${from}::date`)}`,
      to === undefined ? sql`true` : sql`a.at < ${begins(sql`${to}::date + 1`)}`,
    ],
    sql` AND `,
  )
  const acts = await loadRows(
    tx,
    sql`${actRows(shown, which)} ORDER BY a.at DESC, a.act_id DESC LIMIT ${asked.limit} OFFSET ${asked.offset}`,
  )
  const { count } = await oneRow(
    tx,
    { count: is.whole },
    sql`SELECT count(*)::int AS count FROM act a WHERE a.client_id = current_client() AND ${which}`,
  )
  const people = await rowsOf(
    tx,
    { id: is.whole, name: is.text },
    sql`SELECT a."by" AS id, coalesce(u.name, '') AS name FROM (SELECT DISTINCT "by" FROM act WHERE client_id = current_client()) a
      LEFT JOIN app_user u ON u.user_id = a."by" ORDER BY name, id`,
  )
  const sorts = await rowsOf(
    tx,
    { sort: is.text },
    sql`SELECT DISTINCT sort FROM act WHERE client_id = current_client() ORDER BY sort`,
  )
  return { acts: acts.map(toRow), count, people, sorts: sorts.map(row => row.sort) }
}

/** One act with all that it touched; null where there is none. */
export const loadAct = async (tx: Transaction, actId: string): Promise<ActRow | null> => {
  const [row] = await loadRows(tx, actRows(5000, sql`a.act_id = ${actId}`))
  return row ? toRow(row) : null
}
