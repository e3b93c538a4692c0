import { sql } from 'drizzle-orm'
import { recordAct } from '../books/recordAct.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { saveMapVersion } from '../mapping/saveRoutes.ts'
import { recompose } from '../settlements/recompose.ts'
import { tieOut } from './tieOut.ts'

/**
 * Says which source a label of a means of payment stands for: all of them, those not named stand for the source whose key they are. It is
 * part of the map: what is posted stays resolved by the labels it was booked under.
 */
export const saveLabels = (
  database: Database,
  actor: Actor,
  labels: readonly { readonly label: string; readonly source: string }[],
): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await tx.execute(sql`DELETE FROM gateway_label WHERE client_id = current_client()`)
      await tx.execute(sql`INSERT INTO gateway_label (client_id, label, source)
        SELECT current_client(), l.label, l.source FROM jsonb_to_recordset(${JSON.stringify(labels)}::jsonb)
          AS l(label text, source text) ORDER BY l.label`)
      const version = await saveMapVersion(tx, actor)
      await recordAct(tx, actor, { sort: 'save_labels', note: `${labels.length}` })
      await tieOut(tx, { labels: true })
      await recompose(tx, null)
      return version
    }),
  )
