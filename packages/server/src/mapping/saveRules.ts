import { checkRules, type Rule } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { MapRefused } from '../access/mapRefused.ts'
import { touchables } from '../acts/changes.ts'
import { type MadeFrom, saveMap } from '../composing/saveMap.ts'
import { type Actor, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadRules } from '../setup/loadMap.ts'
import { clearingOwners } from './saveRoutes.ts'

/** @throws MapRefused naming every fault, an archived account among them. */
export const refuseBadRules = async (tx: Transaction, rules: readonly Rule[]): Promise<void> => {
  const accounts = await rowsOf(tx, { code: is.text }, sql`SELECT code FROM account WHERE NOT archived`)
  const codes = await rowsOf(tx, { code: is.text }, sql`SELECT code FROM tax_code`)
  const faults = checkRules(rules, {
    accounts: new Set(accounts.map(account => account.code)),
    taxCodes: new Set(codes.map(code => code.code)),
    clearing: new Set((await clearingOwners(tx)).keys()),
  })
  if (faults.length > 0) throw new MapRefused({ of: 'rules', faults })
}

/** Replaces a client's rules, in their order, by the given ones; what is not posted is composed anew. Returns the map's version. @throws MapRefused, Conflict */
export const saveRules = async (
  database: Database,
  actor: Actor,
  rules: readonly Rule[],
  madeFrom?: MadeFrom,
): Promise<number> => {
  const { version } = await saveMap(database, actor, {
    act: 'save_rules',
    note: `${rules.length} rules`,
    madeFrom,
    part: async tx =>
      touchables(
        'rule',
        (await loadRules(tx)).map((rule, place) => ({ place: place + 1, ...rule })),
        row => row.id,
      ),
    change: async tx => {
      await refuseBadRules(tx, rules)
      const rows = rules.map((rule, position) => ({ ...rule, position }))
      await tx.execute(sql`DELETE FROM rule WHERE client_id = current_client()`)
      await tx.execute(sql`
        INSERT INTO rule (client_id, rule_id, position, conditions, actions)
        SELECT current_client(), r.id, r.position, r.conditions, r.actions
        FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS r(id int, position int, conditions jsonb, actions jsonb)`)
    },
  })
  return version
}
