import type { TaxCodeRow } from '@culvert/contract'
import { checkTaxCodes } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { MapRefused } from '../access/mapRefused.ts'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import { type Actor, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadTaxCodes } from '../setup/loadMap.ts'

/** Adds tax codes, or replaces those of the same code; what is not posted is composed anew. Returns the map's version.
 * @throws MapRefused naming every fault. */
export const saveTaxCodes = async (
  database: Database,
  actor: Actor,
  codes: readonly TaxCodeRow[],
  madeFrom?: MadeFrom,
): Promise<number> => {
  const { version } = await saveMap(database, actor, {
    act: 'save_tax_codes',
    note: codes
      .map(code => code.code)
      .join(', ')
      .slice(0, 200),
    madeFrom,
    part: async tx => touchables('tax_code', await loadTaxCodes(tx), row => row.code),
    change: tx => storeTaxCodes(tx, codes),
  })
  return version
}

/** Writes them in the transaction of a save. @throws MapRefused naming every fault */
export const storeTaxCodes = async (tx: Transaction, codes: readonly TaxCodeRow[]): Promise<void> => {
  const accounts = await rowsOf(tx, { code: is.text, type: is.accountType }, sql`SELECT code, type FROM account`)
  const { faults } = checkTaxCodes(codes, new Map(accounts.map(account => [account.code, account])))
  if (faults.length > 0) throw new MapRefused({ of: 'taxCodes', faults })
  for (const code of codes) {
    await tx.execute(sql`INSERT INTO tax_code (client_id, code, name, treatment, basis, use, reverse_charge, country, recovery)
        VALUES (current_client(), ${code.code}, ${code.name}, ${code.treatment}, ${code.basis}, ${code.use}, ${code.reverseCharge},
          ${code.country}, ${JSON.stringify(code.recovery)}::jsonb)
        ON CONFLICT (client_id, code) DO UPDATE SET name = excluded.name, treatment = excluded.treatment, basis = excluded.basis, use = excluded.use,
          reverse_charge = excluded.reverse_charge, country = excluded.country, recovery = excluded.recovery`)
    await tx.execute(sql`DELETE FROM tax_rate WHERE client_id = current_client() AND code = ${code.code}`)
    await tx.execute(sql`DELETE FROM tax_component WHERE client_id = current_client() AND code = ${code.code}`)
    for (const [position, component] of code.components.entries()) {
      await tx.execute(sql`INSERT INTO tax_component (client_id, code, position, name, account, input_account, compound)
          VALUES (current_client(), ${code.code}, ${position}, ${component.name}, ${component.account}, ${component.inputAccount}, ${component.compound})`)
      for (const rate of component.rates)
        await tx.execute(sql`INSERT INTO tax_rate (client_id, code, position, "from", percent)
            VALUES (current_client(), ${code.code}, ${position}, ${rate.from}, ${rate.percent})`)
    }
  }
}
