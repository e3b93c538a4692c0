import type { ClientSettings, savedClient } from '@culvert/contract'
import { isZone } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { saveMap } from '../composing/saveMap.ts'
import { markStages } from '../course/markStages.ts'
import { stages } from '../course/stages.ts'
import { type Actor, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { currentVersion } from '../setup/loadMap.ts'

type SavedClient = z.output<typeof savedClient>

const factsOfClient = (tx: Transaction) =>
  oneRow(
    tx,
    {
      name: is.text,
      country: is.maybe(is.text),
      locale: is.text,
      timeZone: is.text,
      cutOff: is.text,
      fiscalStart: is.whole,
      firstNumber: is.whole,
      exchangeRounding: is.maybe(is.text),
      exchangeDifference: is.maybe(is.text),
    },
    sql`SELECT name, country, locale, time_zone AS "timeZone", cut_off AS "cutOff", fiscal_start AS "fiscalStart", first_number AS "firstNumber",
      exchange_rounding AS "exchangeRounding", exchange_difference AS "exchangeDifference" FROM client WHERE client_id = current_client()`,
  )

const restingOn = (tx: Transaction) =>
  oneRow(
    tx,
    { entries: is.whole, lines: is.whole, sources: is.whole },
    sql`SELECT (SELECT count(*)::int FROM number_counter WHERE client_id = current_client()) AS entries,
      (SELECT count(*)::int FROM (SELECT FROM activity_line WHERE client_id = current_client() LIMIT 1) one) AS lines,
      (SELECT count(*)::int FROM source WHERE client_id = current_client()) AS sources`,
  )

/** What a client is, and how much rests on it. */
export const loadSettings = async (tx: Transaction): Promise<ClientSettings> => {
  const counts = await oneRow(
    tx,
    {
      entries: is.whole,
      lines: is.whole,
      sources: is.whole,
      base: is.text,
      archivedAt: is.maybe(is.text),
    },
    sql`SELECT (SELECT count(*)::int FROM entry WHERE client_id = current_client()) AS entries,
      (SELECT coalesce(sum(lines), 0)::int FROM activity_sum WHERE client_id = current_client()) AS lines,
      (SELECT count(*)::int FROM source WHERE client_id = current_client()) AS sources, base, archived_at::text AS "archivedAt"
      FROM client WHERE client_id = current_client()`,
  )
  return {
    version: await currentVersion(tx),
    client: await factsOfClient(tx),
    ...counts,
    accounts: await rowsOf(
      tx,
      { code: is.text, name: is.text },
      sql`SELECT code, name FROM account WHERE client_id = current_client() AND NOT archived AND takes_postings
        AND type IN ('income', 'other_income', 'expense', 'cost_of_sales', 'equity') ORDER BY code`,
    ),
  }
}

/**
 * Changes what a client is, as a version of its setup: what is posted stays as it was. @throws Refused where lines have their days, or entries their numbers, by what
 * would change; Conflict
 */
export const saveSettings = async (
  database: Database,
  actor: Actor,
  { client, version }: { readonly client: SavedClient; readonly version: number },
): Promise<number> => {
  if (!isZone(client.timeZone)) throw new Refused('zone_unknown', { zone: client.timeZone })
  const saved = await saveMap(database, actor, {
    act: 'save_client',
    note: client.name,
    madeFrom: version,
    part: async tx => touchables('client', [await factsOfClient(tx)], () => actor.clientId),
    change: async tx => {
      const before = await factsOfClient(tx)
      const resting = await restingOn(tx)
      if (resting.lines > 0 && (before.timeZone !== client.timeZone || before.cutOff !== client.cutOff))
        throw new Refused('fixed_once_brought')
      if (
        resting.entries > 0 &&
        (before.fiscalStart !== client.fiscalStart || before.firstNumber !== client.firstNumber)
      )
        throw new Refused('fixed_once_numbered')
      await refuseUnusable(tx, [client.exchangeRounding, client.exchangeDifference])
      await tx.execute(sql`UPDATE client SET name = ${client.name}, country = ${client.country}, locale = ${client.locale},
        time_zone = ${client.timeZone}, cut_off = ${client.cutOff}, fiscal_start = ${client.fiscalStart}, first_number = ${client.firstNumber},
        exchange_rounding = ${client.exchangeRounding}, exchange_difference = ${client.exchangeDifference} WHERE client_id = current_client()`)
      await markStages(tx, stages)
    },
  })
  return saved.version
}

const refuseUnusable = async (tx: Transaction, accounts: readonly (string | null)[]): Promise<void> => {
  for (const account of accounts) {
    if (account === null) continue
    const [known] = await rowsOf(
      tx,
      {},
      sql`SELECT FROM account WHERE client_id = current_client() AND code = ${account} AND NOT archived AND takes_postings`,
    )
    if (!known) throw new Refused('account_unusable', { account })
  }
}
