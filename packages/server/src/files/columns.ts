import { hash } from 'node:crypto'
import { type SavedColumns, savedColumns, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { factsOf } from '../acts/changes.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** What files with columns of their own are of. */
export interface ColumnsOf {
  readonly subject: 'source' | 'account'
  readonly key: string
}

/** A head by which a file of the same shape is known again. */
export const headDigest = (header: readonly string[]): string =>
  hash('sha256', header.map(name => name.trim()).join('\u001f'), 'hex')

/** What was said of such a head; of anything of the client, where nothing is named. */
export const loadSaved = async (
  tx: Transaction,
  of: ColumnsOf | null,
  header: readonly string[],
): Promise<SavedColumns | null> => {
  const [row] = await rowsOf(
    tx,
    { mapping: is.by(savedColumns) },
    sql`SELECT mapping FROM column_mapping WHERE client_id = current_client() AND head = ${headDigest(header)}
      ${of === null ? sql`` : sql`AND subject = ${of.subject} AND key = ${of.key}`} ORDER BY at DESC LIMIT 1`,
  )
  return row?.mapping ?? null
}

/** Keeps what the columns of a head mean: the next file of it is read likewise. */
export const saveColumns = (
  database: Database,
  actor: Actor,
  { subject, key, header, said }: ColumnsOf & { readonly header: readonly string[]; readonly said: SavedColumns },
): Promise<void> =>
  asClient(database, actor, async tx => {
    const before = await loadSaved(tx, { subject, key }, header)
    await tx.execute(sql`INSERT INTO column_mapping (client_id, subject, key, head, mapping, "by", at)
      VALUES (current_client(), ${subject}, ${key}, ${headDigest(header)}, ${JSON.stringify(said)}::jsonb, ${actor.userId}, clock_now())
      ON CONFLICT (client_id, subject, key, head) DO UPDATE SET mapping = excluded.mapping, at = excluded.at`)
    await recordAct(tx, actor, {
      sort: 'save_columns',
      note: header.slice(0, 5).join(', '),
      touched: [
        {
          subject,
          key: subjectKey(key),
          before: before && factsOf({ columns: before.choice.columns }),
          after: factsOf({ columns: said.choice.columns }),
        },
      ],
    })
  })
