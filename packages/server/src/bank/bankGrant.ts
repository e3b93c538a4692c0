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
import type { Credentials } from '../grants/outsideService.ts'
import { openGrant, sealAt } from '../grants/sealGrant.ts'

/** What a bank has granted one client for one account: where it is asked, and with which key. */
export interface BankGrant {
  readonly address: string
  readonly credentials: Credentials
}

/** The grant of a bank account; null where the client has none: then nothing is asked of any bank. */
export const loadGrant = async (tx: Transaction, { clientId }: Actor, account: string): Promise<BankGrant | null> => {
  const [row] = await rowsOf(
    tx,
    { address: is.text, credentials: is.anything },
    sql`SELECT address, credentials FROM bank_grant WHERE client_id = current_client() AND bank_account = ${account}`,
  )
  return row
    ? { address: row.address, credentials: openGrant(row.credentials, { of: 'bank', clientId, key: account }) }
    : null
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
        ON CONFLICT (client_id, bank_account) DO UPDATE SET address = excluded.address, credentials = excluded.credentials`)
      await recordAct(tx, actor, {
        sort: 'grant_bank',
        note: account,
        touched: [{ subject: 'account', key: subjectKey(account), after: { address: grant.address } }],
      })
    }),
  )
