import type { RulesPage } from '@culvert/contract'
import type { Transaction } from '../database/connect.ts'
import { loadTaxCodes } from '../setup/loadMap.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadAccounts } from './loadMapping.ts'
import { countTouchedLines } from './touchedLines.ts'

/** A client's rules in their order, with what each touched in the last 13 weeks. */
export const loadRulesPage = async (tx: Transaction): Promise<RulesPage> => {
  const { setup, base, mapVersion } = await loadSetup(tx)
  const rules = setup.rules ?? []
  return {
    currency: base,
    version: mapVersion,
    rules: [...rules],
    ...(await countTouchedLines(tx, rules)),
    accounts: await loadAccounts(tx),
    taxCodes: (await loadTaxCodes(tx)) as unknown as RulesPage['taxCodes'],
  }
}
