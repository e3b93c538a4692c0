import { type ImportPage, partsOfKey, uploadOutcome } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { balanceFacts } from '../activity/importBalances.ts'
import { headFacts } from '../activity/importHeads.ts'
import { keysOfPull, standingOf } from '../activity/retractPull.ts'
import {
  keyRows,
  keyShape,
  type SettlementKey,
  settlementName,
  subjectOfSettlement,
} from '../activity/settlementKey.ts'
import { settlementsTaxedBy } from '../composing/movedTax.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { heldBy, type ImportedFile, laterTold, loadImportedFile } from '../jobs/importedFile.ts'
import { loadSetup } from '../setup/loadSetup.ts'

/** What a file brought in to a source, and what rests on it. @throws Refused */
export const loadImport = async (
  tx: Transaction,
  { source, jobId }: { readonly source: string; readonly jobId: string },
): Promise<ImportPage & { readonly pullNo: number | null }> => {
  const file = await loadImportedFile(tx, { jobId, sort: 'upload', subject: source })
  const { sort, pullNo, added, revised } = uploadOutcome.parse(file.outcome)
  // Brought in before it was kept as which pull, or what it changed.
  if (pullNo === undefined && added + revised > 0 && !(await isKept(tx, jobId))) throw new Refused('import_unknown')
  return sort === 'activity'
    ? { ...(await lookAtLines(tx, { file, source, pullNo: pullNo ?? null })), pullNo: pullNo ?? null }
    : { ...(await lookAtFacts(tx, { file, source, sort })), pullNo: null }
}

const isKept = async (tx: Transaction, jobId: string): Promise<boolean> =>
  (
    await rowsOf(
      tx,
      {},
      sql`SELECT FROM import_change WHERE client_id = current_client() AND job_id = ${jobId} LIMIT 1`,
    )
  ).length > 0

const nothing = { from: null, to: null, sums: [], settlements: 0, accounts: [], holds: [] } as const

const lookAtLines = async (
  tx: Transaction,
  { file, source, pullNo }: { readonly file: ImportedFile; readonly source: string; readonly pullNo: number | null },
): Promise<ImportPage> => {
  const { jobId, name } = file
  if (pullNo === null)
    return { ...nothing, jobId, name, sort: 'activity', rows: 0, restored: 0, sums: [], accounts: [], holds: [] }
  const told = await oneRow(
    tx,
    { rows: is.whole, restored: is.whole, from: is.maybe(is.text), to: is.maybe(is.text) },
    sql`SELECT count(*)::int AS rows, count(*) FILTER (WHERE l.revision > 1 AND EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id
        AND x.source = l.source AND x.line_id = l.line_id AND x.revision = l.revision - 1 AND x.pull_no = l.pull_no))::int AS restored,
      min(l.local_date)::text AS "from", max(l.local_date)::text AS "to"
    FROM activity_line l WHERE l.client_id = current_client() AND l.source = ${source} AND l.pull_no = ${pullNo}`,
  )
  const sums = await rowsOf(
    tx,
    { currency: is.text, amount: is.minor },
    sql`SELECT currency, sum(amount)::bigint AS amount FROM activity_line
      WHERE client_id = current_client() AND source = ${source} AND pull_no = ${pullNo} AND status <> 'failed' GROUP BY 1 ORDER BY 1`,
  )
  const keys = await keysOfPull(tx, source, pullNo)
  const holds = [
    ...heldBy('posted', await postedWith(tx, keys, pullNo)),
    ...heldBy('tied_posted', await tiedPosted(tx, source, pullNo)),
    ...heldBy('taxes_posted', await taxesPosted(tx, { source, pullNo, keys })),
    ...heldBy('changed_since', await changedSince(tx, source, pullNo)),
    ...heldBy('overlapped', await laterTold(tx, { source, ordinal: file.ordinal, sort: 'activity' })),
    ...heldBy('decided', await decidedOf(tx, source, pullNo)),
    ...heldBy('noted', [...(await notedOf(tx, source, pullNo)), ...(await notedSettlements(tx, keys))]),
  ]
  return { jobId, name, sort: 'activity', ...told, sums, settlements: keys.length, accounts: [], holds }
}

/** Which of some settlements are posted with what came up to a pull. */
const postedWith = async (tx: Transaction, keys: readonly SettlementKey[], pullNo: number): Promise<string[]> =>
  keys.length === 0
    ? []
    : (
        await rowsOf(
          tx,
          keyShape,
          sql`SELECT s.source, s.key, s.currency FROM ${keyRows(keys)} JOIN settlement_as_of s ON s.client_id = current_client() AND s.source = k.source
            AND s.key = k.key AND s.currency = k.currency AND s.stands AND s.as_of >= ${pullNo} ORDER BY s.key`,
        )
      ).map(settlementName)

// The other side of a match: of a tender the gateway's settlement, which books nothing of it, and of a collection the channel's, which books it.
const tiedPosted = async (tx: Transaction, source: string, pullNo: number): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      keyShape,
      sql`SELECT DISTINCT o.source, o.settlement_key AS key, o.currency FROM activity_line l
        JOIN tender_match m ON m.client_id = l.client_id AND m.to_pull IS NULL AND ((m.gateway = l.source AND m.collection_line = l.line_id)
          OR (m.channel = l.source AND m.tender_line = l.line_id))
        JOIN line_as_of o ON o.client_id = m.client_id AND o.stands AND ((o.source = m.gateway AND o.line_id = m.collection_line AND m.channel = l.source)
          OR (o.source = m.channel AND o.line_id = m.tender_line AND m.gateway = l.source))
        JOIN settlement s ON s.client_id = o.client_id AND s.source = o.source AND s.key = o.settlement_key AND s.currency = o.currency AND s.state = 'posted'
        WHERE l.client_id = current_client() AND l.source = ${source} AND l.pull_no = ${pullNo} ORDER BY 2`,
    )
  ).map(settlementName)

const taxesPosted = async (
  tx: Transaction,
  {
    source,
    pullNo,
    keys,
  }: { readonly source: string; readonly pullNo: number; readonly keys: readonly SettlementKey[] },
): Promise<string[]> => {
  const own = new Set(keys.map(settlementName))
  const hanging = await settlementsTaxedBy(tx, await loadSetup(tx), { source, pullNo })
  return (await postedWith(tx, hanging, pullNo)).filter(name => !own.has(name))
}

const changedSince = async (tx: Transaction, source: string, pullNo: number): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      { line: is.text },
      sql`SELECT o.line_id AS line FROM activity_line o WHERE o.client_id = current_client() AND o.source = ${source} AND o.pull_no = ${pullNo}
        EXCEPT SELECT o.line_id FROM ${standingOf(source, pullNo)} ORDER BY 1`,
    )
  ).map(row => row.line)

const decidedOf = async (tx: Transaction, source: string, pullNo: number): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      { line: is.text },
      sql`SELECT DISTINCT l.line_id AS line FROM activity_line l WHERE l.client_id = current_client() AND l.source = ${source} AND l.pull_no = ${pullNo}
        AND (EXISTS (SELECT FROM payment_decision d WHERE d.client_id = l.client_id AND d.undone_by IS NULL
            AND ((d.source = l.source AND d.line_id = l.line_id) OR (d.other_source = l.source AND d.other_line = l.line_id)))
          OR EXISTS (SELECT FROM dispute_decision d WHERE d.client_id = l.client_id AND d.source = l.source AND d.line_id = l.line_id AND d.undone_by IS NULL))
        ORDER BY 1`,
    )
  ).map(row => row.line)

const notedOf = async (tx: Transaction, source: string, pullNo: number): Promise<string[]> => {
  const notes = await rowsOf(
    tx,
    { key: is.text, title: is.text },
    sql`SELECT DISTINCT key, title FROM note WHERE client_id = current_client() AND subject IN ('line', 'payment') AND key ^@ ${`${encodeURIComponent(source)}/`}`,
  )
  if (notes.length === 0) return []
  const lines = new Set(
    (
      await rowsOf(
        tx,
        { line: is.text },
        sql`SELECT DISTINCT line_id AS line FROM activity_line WHERE client_id = current_client() AND source = ${source} AND pull_no = ${pullNo}
          AND line_id = ANY(${sql.param(notes.map(({ key }) => partsOfKey(key)[1] ?? ''))}::text[])`,
      )
    ).map(row => row.line),
  )
  return notes.filter(({ key }) => lines.has(partsOfKey(key)[1] ?? '')).map(({ title }) => title)
}

/** Notes on settlements that lose lines or what is said of them: one that keeps nothing goes. */
const notedSettlements = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      { title: is.text },
      sql`SELECT DISTINCT title FROM note WHERE client_id = current_client() AND subject = 'settlement'
        AND key = ANY(${sql.param(keys.map(subjectOfSettlement))}::text[]) ORDER BY 1`,
    )
  ).map(row => row.title)

/** What a file of settlements or balances said: what stood there before comes back. */
const lookAtFacts = async (
  tx: Transaction,
  {
    file,
    source,
    sort,
  }: { readonly file: ImportedFile; readonly source: string; readonly sort: 'settlements' | 'balances' },
): Promise<ImportPage> => {
  const { jobId, name } = file
  const heads = sort === 'settlements'
  const said = heads
    ? sql`LEFT JOIN settlement n ON n.client_id = i.client_id AND n.source = i.source AND n.key = i.key AND n.currency = i.currency AND n.has_head`
    : sql`LEFT JOIN reported_balance n ON n.client_id = i.client_id AND n.source = i.source AND n.date::text = i.key AND n.currency = i.currency`
  const changes = await rowsOf(
    tx,
    { key: is.text, currency: is.text, restored: is.yes, changed: is.yes, day: is.maybe(is.text) },
    sql`SELECT i.key, i.currency, i.before IS NOT NULL AS restored, n.source IS NULL OR ${heads ? headFacts('n') : balanceFacts('n')} <> i.after AS changed,
      ${heads ? sql`coalesce(i.after->>'period_end', i.after->>'payout_date')` : sql`i.key`} AS day
    FROM import_change i ${said} WHERE i.client_id = current_client() AND i.job_id = ${jobId} ORDER BY i.key, i.currency`,
  )
  const keys = heads ? changes.map(({ key, currency }) => ({ source, key, currency })) : []
  const days = changes.flatMap(({ day }) => day ?? []).sort()
  return {
    ...{ jobId, name, sort, rows: changes.length, restored: changes.filter(one => one.restored).length },
    ...{ from: days[0] ?? null, to: days.at(-1) ?? null, sums: [], settlements: keys.length, accounts: [] },
    holds: [
      ...heldBy('posted', await postedWith(tx, keys, 0)),
      ...heldBy('noted', await notedSettlements(tx, keys)),
      ...heldBy('overlapped', await laterTold(tx, { source, ordinal: file.ordinal, sort })),
      ...heldBy(
        'changed_since',
        changes.filter(one => one.changed).map(one => one.key),
      ),
    ],
  }
}
