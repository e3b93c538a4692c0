import type { ItemRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { recordAct } from '../books/recordAct.ts'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { recompose } from '../settlements/recompose.ts'
import { saveMapVersion } from './saveRoutes.ts'

/** Adds items, or replaces those of the same SKU; what is not posted is composed anew. Returns the map's version. */
export const saveItems = (database: Database, actor: Actor, items: readonly ItemRow[]): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await tx.execute(sql`SELECT FROM client WHERE client_id = current_client() FOR UPDATE`)
      await tx.execute(sql`
        INSERT INTO item (client_id, code, name, other_names, account, tax_code, costs)
        SELECT current_client(), i.code, i.name, i."otherNames", i.account, i."taxCode", i.costs
        FROM jsonb_to_recordset(${JSON.stringify(items)}::jsonb) AS i(code text, name text, "otherNames" jsonb, account text,
          "taxCode" text, costs jsonb)
        ON CONFLICT (client_id, code) DO UPDATE SET name = excluded.name, other_names = excluded.other_names,
          account = excluded.account, tax_code = excluded.tax_code, costs = excluded.costs`)
      const version = await saveMapVersion(tx, actor)
      await recordAct(tx, actor, { sort: 'save_items', note: `${items.length} items` })
      await recompose(tx, null)
      await refreshSummary(tx, ['mapping', 'settlements', 'clearing'])
      return version
    }),
  )
