import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { sqlState } from '../database/sqlState.ts'
import { endUnused, tellEnded } from '../grants/endGrant.ts'
import { loadShops, shopKey } from '../grants/shops.ts'

const uniqueViolation = '23505'

/**
 * Connects an account of the chart to one of a bank's that was granted, in place of an earlier connection. @throws Refused where the login does not hold
 * it, it serves another client, or the two are in different currencies
 */
export const connectBank = async (
  database: Database,
  actor: Actor,
  asked: { readonly grantId: string; readonly shop: string; readonly account: string },
): Promise<void> => {
  const { grant, shops } = await loadShops(database, actor, asked.grantId)
  const wanted = shops.find(one => one.id === asked.shop)
  if (!wanted || grant.sort !== 'bank')
    throw new Refused('shop_not_there', { login: grant.login ?? '', shop: asked.shop })
  const shop = shopKey(grant.service, asked.shop)
  try {
    const ended = await retrying(() =>
      asClient(database, actor, async tx => {
        const [account] = await rowsOf(
          tx,
          { currency: is.text },
          sql`SELECT currency FROM account WHERE client_id = current_client() AND code = ${asked.account} AND type IN ('bank', 'card') AND NOT archived`,
        )
        if (!account) throw new Refused('not_found', { what: 'bank account' })
        if (wanted.currency !== '' && wanted.currency !== account.currency)
          throw new Refused('held_in_another', {
            account: asked.account,
            currency: account.currency,
            base: wanted.currency,
          })
        const { rowCount } =
          await tx.execute(sql`SELECT FROM service_grant WHERE client_id = current_client() AND grant_id = ${asked.grantId}
          AND granted_at IS NOT NULL AND ended IS NULL FOR NO KEY UPDATE`)
        if (rowCount !== 1) throw new Refused('grant_ended', { name: grant.name })
        const before = await rowsOf(
          tx,
          { account: is.text, grantId: is.maybe(is.text), same: is.yes },
          sql`SELECT bank_account AS account, grant_id AS "grantId", shop IS NOT DISTINCT FROM ${shop} AS same FROM bank_grant
            WHERE client_id = current_client() AND (bank_account = ${asked.account} OR shop = ${shop})`,
        )
        const own = before.find(one => one.same && one.account !== asked.account)
        if (own) throw new Refused('shop_taken', { shop: wanted.name, serves: `account ${own.account}` })
        await tx.execute(sql`INSERT INTO bank_grant (client_id, bank_account, grant_id, shop) VALUES (current_client(), ${asked.account}, ${asked.grantId}, ${shop})
          ON CONFLICT (client_id, bank_account) DO UPDATE SET address = NULL, credentials = NULL, grant_id = excluded.grant_id, shop = excluded.shop`)
        await recordAct(tx, actor, {
          sort: 'connect',
          note: wanted.name,
          touched: [
            { subject: 'account', key: subjectKey(asked.account), after: { bank: shop } },
            { subject: 'grant', key: asked.grantId },
          ],
        })
        await markStages(tx, ['sources', 'bank'])
        const former = before[0]?.grantId ?? null
        return former === null || former === asked.grantId ? null : endUnused(tx, actor, former)
      }),
    )
    await tellEnded(ended)
  } catch (error) {
    if (sqlState(error) === uniqueViolation) throw new Refused('shop_taken', { shop: wanted.name, serves: null })
    throw error
  }
}

/** Ends the connection of a bank account, and its grant where that serves nothing else; whether the bank heard. @throws Refused where there is none */
export const disconnectBank = async (database: Database, actor: Actor, account: string): Promise<boolean> =>
  tellEnded(
    await retrying(() =>
      asClient(database, actor, async tx => {
        const [gone] = await rowsOf(
          tx,
          { grantId: is.maybe(is.text) },
          sql`DELETE FROM bank_grant WHERE client_id = current_client() AND bank_account = ${account} RETURNING grant_id AS "grantId"`,
        )
        if (!gone) throw new Refused('not_found', { what: 'connected bank account' })
        await recordAct(tx, actor, {
          sort: 'disconnect',
          note: account,
          touched: [{ subject: 'account', key: subjectKey(account), after: { connected: false } }],
        })
        await markStages(tx, ['sources', 'bank'])
        return gone.grantId === null ? null : endUnused(tx, actor, gone.grantId)
      }),
    ),
  )
