import type { bankGrantBody } from '@culvert/contract'
import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { refuseUnasked } from '../access/refuseUnasked.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import type { Credentials, TokenSource } from '../grants/outsideService.ts'
import { openGrant, sealAt } from '../grants/sealGrant.ts'
import { serviceNamed } from '../grants/services.ts'
import { splitShopKey } from '../grants/shops.ts'
import { tokenSource } from '../grants/tokenSource.ts'

/** What a bank has granted one client for one account: where its lines are asked, and by what. */
export interface BankGrant {
  readonly address: string
  readonly access: Credentials | TokenSource
}

/** The grant of a bank account; null where the client has none: then nothing is asked of any bank. */
export const loadGrant = async (
  database: Database,
  tx: Transaction,
  actor: Actor,
  account: { readonly code: string; readonly number: string },
): Promise<BankGrant | null> => {
  const [row] = await rowsOf(
    tx,
    { address: is.maybe(is.text), credentials: is.anything, grantId: is.maybe(is.text), shop: is.maybe(is.text) },
    sql`SELECT address, credentials, grant_id AS "grantId", shop FROM bank_grant WHERE client_id = current_client() AND bank_account = ${account.code}`,
  )
  if (!row) return null
  if (row.grantId !== null && row.shop !== null) {
    const [service, number] = splitShopKey(row.shop)
    return {
      address: `${serviceNamed(service).address}/accounts/${encodeURIComponent(number)}`,
      access: tokenSource(database, actor, row.grantId),
    }
  }
  return {
    address: `${row.address ?? ''}/accounts/${encodeURIComponent(account.number)}`,
    access: openGrant(row.credentials, { of: 'bank', clientId: actor.clientId, key: account.code }),
  }
}

/** Keeps what the bank granted this client for an account, in place of an earlier grant. @throws Refused */
export const saveGrant = (
  database: Database,
  actor: Actor,
  account: string,
  grant: z.output<typeof bankGrantBody>,
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      refuseUnasked(grant.address)
      const [known] = await rowsOf(
        tx,
        {},
        sql`SELECT FROM account WHERE client_id = current_client() AND code = ${account} AND type IN ('bank', 'card')`,
      )
      if (!known) throw new Refused('not_found', { what: 'bank account' })
      await tx.execute(sql`INSERT INTO bank_grant (client_id, bank_account, address, credentials)
        VALUES (current_client(), ${account}, ${grant.address}, ${sealAt(grant.credentials, { of: 'bank', clientId: actor.clientId, key: account })}::jsonb)
        ON CONFLICT (client_id, bank_account) DO UPDATE SET address = excluded.address, credentials = excluded.credentials, grant_id = NULL, shop = NULL`)
      await recordAct(tx, actor, {
        sort: 'grant_bank',
        note: account,
        touched: [{ subject: 'account', key: subjectKey(account), after: { address: grant.address } }],
      })
    }),
  )
