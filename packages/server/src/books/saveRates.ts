import { checkRate, type ExchangeRate } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { composeLater } from '../composing/composeAnew.ts'
import { follow } from '../composing/follow.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { holdSetup } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { recordAct } from '../ledger/recordAct.ts'
import { countSave } from '../setup/versions.ts'

/**
 * Adds exchange rates, or replaces those of the same date and currencies; what is not posted is composed anew, what is posted
 * stays at the rate it was booked at. @throws Refused naming the first rate that is none.
 */
export const saveRates = async (database: Database, actor: Actor, rates: readonly ExchangeRate[]): Promise<number> => {
  for (const rate of rates) {
    const fault = checkRate(rate)
    if (fault) throw new Refused('bad_rate', { fault, rate })
  }
  const later = await retrying(() =>
    asClient(database, actor, async tx => {
      await holdSetup(tx)
      await tx.execute(sql`
        INSERT INTO exchange_rate (client_id, date, "from", "to", rate)
        SELECT DISTINCT ON (r.date, r."from", r."to") current_client(), r.date, r."from", r."to", r.rate
        FROM jsonb_to_recordset(${JSON.stringify(rates)}::jsonb) AS r(date date, "from" char(3), "to" char(3), rate numeric)
        ORDER BY 2, 3, 4
        ON CONFLICT (client_id, date, "from", "to") DO UPDATE SET rate = excluded.rate`)
      await countSave(tx)
      await recordAct(tx, actor, { sort: 'save_rates', note: `${rates.length} rates` })
      return composeLater(tx, database, actor)
    }),
  )
  if (!later) await follow(database, actor)
  await retrying(() => asClient(database, actor, tx => markStages(tx, ['mapping', 'settlements', 'clearing', 'bank'])))
  return rates.length
}
