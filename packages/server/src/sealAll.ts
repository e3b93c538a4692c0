import { symmetricDecrypt, symmetricEncrypt } from 'better-auth/crypto'
import { type SQL, sql } from 'drizzle-orm'
import { keyNow, keyring, sealedSchema } from './access/keyring.ts'
import { secretFor } from './access/secrets.ts'
import { clientsInTurn } from './clientsInTurn.ts'
import { asPerson, type Database, rowsOf, type Transaction } from './database/connect.ts'
import { is } from './database/rows.ts'
import { openAt, type SealedPlace, sealAt } from './grants/sealGrant.ts'

/** What was sealed anew. */
export interface SealedAnew {
  readonly grants: number
  readonly secondFactors: number
}

/**
 * Seals with the secret of now what is not: grants of before they were sealed, and all that was sealed with a former secret, second factors among it. As the
 * database's owner. @throws CannotUnseal where a secret is missing: then nothing of that client is changed
 */
export const sealAll = async (database: Database): Promise<SealedAnew> => {
  let grants = 0
  await clientsInTurn(database, async (tx, clientId) => {
    for (const of of Object.keys(kept) as SealedPlace['of'][]) grants += await sealAnew(tx, { of, clientId })
  })
  return { grants, secondFactors: await sealSecondFactors(database) }
}

const kept: Readonly<Record<SealedPlace['of'], { readonly table: SQL; readonly key: SQL; readonly sealed: SQL }>> = {
  source: { table: sql`source`, key: sql`source`, sealed: sql`credentials` },
  bank: { table: sql`bank_grant`, key: sql`bank_account`, sealed: sql`credentials` },
  tokens: { table: sql`service_grant`, key: sql`grant_id`, sealed: sql`tokens` },
  verifier: { table: sql`service_grant`, key: sql`grant_id`, sealed: sql`verifier` },
}

const sealAnew = async (tx: Transaction, of: Omit<SealedPlace, 'key'>): Promise<number> => {
  const { table, key, sealed } = kept[of.of]
  const rows = await rowsOf(
    tx,
    { key: is.text, sealed: is.anything },
    sql`SELECT ${key} AS key, ${sealed} AS sealed FROM ${table} WHERE client_id = current_client() AND ${sealed} IS NOT NULL FOR UPDATE`,
  )
  const stale = rows.filter(row => sealedSchema.safeParse(row.sealed).data?.key !== keyNow('sealed').id)
  for (const row of stale) {
    const place = { ...of, key: row.key }
    await tx.execute(sql`UPDATE ${table} SET ${sealed} = ${sealAt(openAt(row.sealed, place), place)}::jsonb
      WHERE client_id = current_client() AND ${key} = ${row.key}`)
  }
  return stale.length
}

// The package that signs people in keeps second factors under the secret it is given: it opens them with no former one.
const sealSecondFactors = (database: Database): Promise<number> =>
  asPerson(database, 0, async tx => {
    const [current, ...former] = keyring().map(one => secretFor(one.secret, 'sessions')) as [string, ...string[]]
    if (former.length === 0) return 0
    const rows = await rowsOf(
      tx,
      { id: is.text, secret: is.text, codes: is.text },
      sql`SELECT id, secret, "backupCodes" AS codes FROM auth."twoFactor" FOR UPDATE`,
    )
    let sealed = 0
    for (const row of rows) {
      if ((await openedBy(row.secret, [current])) !== null) continue
      const [secret, codes] = [await openedBy(row.secret, former), await openedBy(row.codes, former)]
      if (secret === null || codes === null) continue
      await tx.execute(sql`UPDATE auth."twoFactor" SET secret = ${await symmetricEncrypt({ key: current, data: secret })},
        "backupCodes" = ${await symmetricEncrypt({ key: current, data: codes })} WHERE id = ${row.id}`)
      sealed++
    }
    return sealed
  })

const openedBy = async (data: string, keys: readonly string[]): Promise<string | null> => {
  for (const key of keys) {
    const opened = await symmetricDecrypt({ key, data }).catch(() => null)
    if (opened !== null) return opened
  }
  return null
}
