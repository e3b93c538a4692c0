import { type ClassBody, subjectKey, type TaxRowBody } from '@culvert/contract'
import { checkClasses, checkTaxRows } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { MapRefused } from '../access/mapRefused.ts'
import { Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadClasses, loadTaxBy, loadTaxRows } from '../setup/loadMap.ts'
import { countBlocked } from './saveRoutes.ts'

/** The whole of what decides the tax of supplies. */
export interface TaxGrid {
  readonly rows: readonly TaxRowBody[]
  readonly classes: readonly ClassBody[]
  /** Whether the rows decide from now on; once they do there is no way back to the routes. */
  readonly byRows: boolean
}

/** Replaces a client's tax rows and classes; what is not posted is composed anew. Returns the map's version, and how many settlements are blocked no longer. @throws MapRefused, Conflict */
export const saveTaxRows = async (
  database: Database,
  actor: Actor,
  grid: TaxGrid,
  madeFrom?: MadeFrom,
): Promise<{ version: number; unblocked: number }> => {
  const before = await asClient(database, actor, countBlocked)
  const { version } = await saveMap(database, actor, {
    act: 'save_tax_rows',
    note: `${grid.rows.length} rows, ${grid.classes.length} classes${grid.byRows ? '' : ', not in force yet'}`,
    madeFrom,
    part: async tx => [
      ...touchables('tax_row', await loadTaxRows(tx), row => row.id),
      ...touchables('product_class', await loadClasses(tx), row => subjectKey(row.sku ?? '', row.category ?? '')),
      ...touchables('client', [{ taxBy: await loadTaxBy(tx) }], () => actor.clientId),
    ],
    change: tx => storeTaxRows(tx, grid),
  })
  const after = await asClient(database, actor, countBlocked)
  return { version, unblocked: Math.max(0, before - after) }
}

/** Writes them in the transaction of a save. @throws MapRefused naming every fault */
export const storeTaxRows = async (tx: Transaction, { rows, classes, byRows }: TaxGrid): Promise<void> => {
  if (!byRows && (await loadTaxBy(tx)) === 'rows') throw new Refused('tax_by_rows')
  const codes = await rowsOf(tx, { code: is.text }, sql`SELECT code FROM tax_code WHERE client_id = current_client()`)
  const faults = checkTaxRows(
    rows.map(({ id: _, ...row }) => row),
    new Set(codes.map(one => one.code)),
  )
  if (faults.length > 0) throw new MapRefused({ of: 'taxRows', faults })
  const unclear = checkClasses(classes)
  if (unclear.length > 0) throw new MapRefused({ of: 'classes', faults: unclear })
  // Ids are given here and not again: an older version's rows may be named by them.
  const known = new Set((await loadTaxRows(tx)).map(row => row.id))
  let next = Math.max(0, ...known) + 1
  const taken = new Set<number>()
  const numbered = rows.map(row => {
    const id = row.id !== null && known.has(row.id) && !taken.has(row.id) ? row.id : next++
    taken.add(id)
    return { ...row, id }
  })
  await tx.execute(sql`DELETE FROM tax_row WHERE client_id = current_client()`)
  await tx.execute(sql`
    INSERT INTO tax_row (client_id, row_id, source, kind, label, region, class, "from", code, reason)
    SELECT current_client(), r.id, r.source, r.kind, r.label, r.region, r.class, r."from", r.code, r.reason
    FROM jsonb_to_recordset(${JSON.stringify(numbered)}::jsonb) AS r(id int, source text, kind text, label text, region text, class text,
      "from" date, code text, reason text)`)
  await tx.execute(sql`DELETE FROM product_class WHERE client_id = current_client()`)
  await tx.execute(sql`
    INSERT INTO product_class (client_id, sku, category, class)
    SELECT current_client(), coalesce(c.sku, ''), coalesce(c.category, ''), c.class
    FROM jsonb_to_recordset(${JSON.stringify(classes)}::jsonb) AS c(sku text, category text, class text)`)
  if (byRows) await tx.execute(sql`UPDATE client SET tax_by = 'rows' WHERE client_id = current_client()`)
}
