import type { ItemRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import type { Actor, Database, Transaction } from '../database/connect.ts'
import { loadItems } from '../setup/loadMap.ts'
import { clearingOwners } from './saveRoutes.ts'

/** Adds items, or replaces those of the same SKU; what is not posted is composed anew. Returns the map's version. @throws Refused, Conflict */
export const saveItems = async (
  database: Database,
  actor: Actor,
  items: readonly ItemRow[],
  madeFrom?: MadeFrom,
): Promise<number> => {
  const { version } = await saveMap(database, actor, {
    act: 'save_items',
    note: `${items.length} items`,
    madeFrom,
    part: async tx => touchables('item', await loadItems(tx), row => row.code),
    change: tx => storeItems(tx, items),
  })
  return version
}

/** Writes items in the caller's transaction. @throws Refused where one would book to a clearing account */
export const storeItems = async (tx: Transaction, items: readonly ItemRow[]): Promise<void> => {
  await refuseClearing(tx, items)
  await tx.execute(sql`
    INSERT INTO item (client_id, code, name, other_names, account, tax_code, costs)
    SELECT current_client(), i.code, i.name, i."otherNames", i.account, i."taxCode", i.costs
    FROM jsonb_to_recordset(${JSON.stringify(items)}::jsonb) AS i(code text, name text, "otherNames" jsonb, account text,
      "taxCode" text, costs jsonb)
    ON CONFLICT (client_id, code) DO UPDATE SET name = excluded.name, other_names = excluded.other_names,
      account = excluded.account, tax_code = excluded.tax_code, costs = excluded.costs`)
}

const refuseClearing = async (tx: Transaction, items: readonly ItemRow[]): Promise<void> => {
  const owners = await clearingOwners(tx)
  const item = items.find(one => owners.has(one.account))
  if (item) throw new Refused('item_to_clearing', { item: item.code, account: item.account })
}
