import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import { tieOut } from '../composing/tieOut.ts'
import { type Actor, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/**
 * Says which source a label of a means of payment stands for: all of them, those not named stand for the source whose key they are. It is
 * part of the map: what is posted stays resolved by the labels it was booked under. @throws Conflict
 */
export const saveLabels = async (
  database: Database,
  actor: Actor,
  labels: readonly { readonly label: string; readonly source: string }[],
  madeFrom?: MadeFrom,
): Promise<number> => {
  const { version } = await saveMap(database, actor, {
    act: 'save_labels',
    note: `${labels.length}`,
    madeFrom,
    part: async tx => touchables('label', await loadLabels(tx), row => subjectKey(row.label)),
    change: async tx => {
      await tx.execute(sql`DELETE FROM gateway_label WHERE client_id = current_client()`)
      await tx.execute(sql`INSERT INTO gateway_label (client_id, label, source)
        SELECT current_client(), l.label, l.source FROM jsonb_to_recordset(${JSON.stringify(labels)}::jsonb)
          AS l(label text, source text) ORDER BY l.label`)
    },
    // With the new labels, and before anybody composes by them.
    after: tx => tieOut(tx, { labels: true }),
  })
  return version
}

const loadLabels = (tx: Transaction) =>
  rowsOf(
    tx,
    { label: is.text, source: is.text },
    sql`SELECT label, source FROM gateway_label WHERE client_id = current_client() ORDER BY label`,
  )
