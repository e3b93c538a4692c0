import { subjectKey } from '@culvert/contract'
import { checkRate, type ExchangeRate } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { composeLater } from '../composing/composeAnew.ts'
import { follow } from '../composing/follow.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSetup } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
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
      const before = await loadRatesOf(tx, rates)
      await tx.execute(sql`
        INSERT INTO exchange_rate (client_id, date, "from", "to", rate)
        SELECT DISTINCT ON (r.date, r."from", r."to") current_client(), r.date, r."from", r."to", r.rate
        FROM jsonb_to_recordset(${JSON.stringify(rates)}::jsonb) AS r(date date, "from" char(3), "to" char(3), rate numeric)
        ORDER BY 2, 3, 4
        ON CONFLICT (client_id, date, "from", "to") DO UPDATE SET rate = excluded.rate`)
      await countSave(tx)
      await recordAct(tx, actor, {
        sort: 'save_rates',
        note: `${rates.length} rates`,
        touched: rates.map(one => {
          const key = subjectKey(one.date, one.from, one.to)
          const was = before.get(key)
          return {
            subject: 'rate' as const,
            key,
            before: was === undefined ? null : { rate: was },
            after: { rate: one.rate },
          }
        }),
      })
      return composeLater(tx, database, actor)
    }),
  )
  if (!later) await follow(database, actor)
  await retrying(() => asClient(database, actor, tx => markStages(tx, ['mapping', 'settlements', 'clearing', 'bank'])))
  return rates.length
}

/** What stands of the same days and currencies. */
const loadRatesOf = async (tx: Transaction, rates: readonly ExchangeRate[]): Promise<ReadonlyMap<string, string>> => {
  const rows = await rowsOf(
    tx,
    { date: is.text, from: is.text, to: is.text, rate: is.text },
    sql`SELECT e.date::text, e."from", e."to", e.rate::text FROM jsonb_to_recordset(${JSON.stringify(rates)}::jsonb)
        AS r(date date, "from" char(3), "to" char(3))
      JOIN exchange_rate e ON e.client_id = current_client() AND e.date = r.date AND e."from" = r."from" AND e."to" = r."to"`,
  )
  return new Map(rows.map(row => [subjectKey(row.date, row.from, row.to), row.rate]))
}
