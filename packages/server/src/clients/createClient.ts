import { type NewClient, newClient } from '@culvert/contract'
import { isCurrency, isZone } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { joinNewClient, practiceOf } from '../access/practice.ts'
import { Refused } from '../access/refused.ts'
import { factsOf } from '../acts/changes.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { markStages } from '../course/markStages.ts'
import { stages } from '../course/stages.ts'
import { asPerson, type Database, oneRow } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/**
 * Takes a client on; the one who does, and the owners of the practice, are of it. Tax rows decide what its supplies bear; the clients of before may still have it decided by
 * their routes. Returns its id. @throws Refused for facts that cannot be.
 */
export const createClient = async (
  database: Database,
  userId: number,
  told: NewClient,
  taxBy: 'routes' | 'rows' = 'rows',
): Promise<number> => {
  const facts = newClient.parse(told)
  if (!isCurrency(facts.base)) throw new Refused('currency_unknown', { field: 'base', currency: facts.base })
  if (!isZone(facts.timeZone)) throw new Refused('zone_unknown', { zone: facts.timeZone })
  return asPerson(database, userId, async tx => {
    const { practiceId } = await practiceOf(tx, userId)
    const { id } = await oneRow(
      tx,
      { id: is.whole },
      sql`SELECT nextval(pg_get_serial_sequence('client', 'client_id'))::int AS id`,
    )
    await tx.execute(sql`SELECT set_config('app.client', ${String(id)}, true)`)
    await tx.execute(sql`INSERT INTO client (client_id, practice_id, name, base, time_zone, cut_off, locale, exchange_rounding,
        exchange_difference, tax_by, country, fiscal_start, first_number)
      VALUES (${id}, ${practiceId}, ${facts.name}, ${facts.base}, ${facts.timeZone}, ${facts.cutOff}, ${facts.locale}, ${facts.exchangeRounding},
        ${facts.exchangeDifference}, ${taxBy}, ${facts.country}, ${facts.fiscalStart}, ${facts.firstNumber})`)
    await joinNewClient(tx, { clientId: id, userId })
    await markStages(tx, stages)
    await recordPracticeAct(tx, {
      sort: 'take_on',
      by: userId,
      subject: 'client',
      key: String(id),
      note: facts.name,
      after: factsOf(facts),
    })
    return id
  })
}
