import { symmetricDecrypt, symmetricEncrypt } from 'better-auth/crypto'
import { sql } from 'drizzle-orm'
import { afterAll, afterEach, expect, it } from 'vitest'
import { keyring, setKeyring } from './access/keyring.ts'
import { ensurePerson } from './access/practice.ts'
import { secretFor } from './access/secrets.ts'
import { asClient, asPerson, connect, oneRow } from './database/connect.ts'
import { is } from './database/rows.ts'
import { openGrant } from './grants/sealGrant.ts'
import { sealAll } from './sealAll.ts'
import { makeClient, testDatabase } from './testing/madeClient.ts'

const database = testDatabase(4)
const owner = connect(process.env.DATABASE_URL ?? '', 2)
afterEach(() => setKeyring(null))
afterAll(async () => {
  await database.$client.end()
  await owner.$client.end()
})

it('seals grants of before, and what a former secret sealed: second factors too', async () => {
  const actor = await makeClient(database, 'With a grant')
  const kept = () =>
    asClient(database, actor, tx =>
      oneRow(
        tx,
        { credentials: is.anything, text: is.text },
        sql`SELECT credentials, credentials::text AS text FROM source WHERE source = 'openhall'`,
      ),
    )
  expect((await kept()).text).not.toContain('"secret"')
  // As it was kept before grants were sealed.
  await asClient(database, actor, tx =>
    tx.execute(sql`UPDATE source SET credentials = '{"key": "k", "secret": "plain as day"}' WHERE source = 'openhall'`),
  )
  const place = { of: 'source', clientId: actor.clientId, key: 'openhall' } as const
  expect(openGrant((await kept()).credentials, place).secret).toBe('plain as day')
  expect((await sealAll(owner)).grants).toBeGreaterThanOrEqual(1)
  expect((await kept()).text).not.toContain('plain as day')
  expect((await sealAll(owner)).grants).toBe(0)

  const [{ secret }] = keyring()
  const userId = await ensurePerson(database, { email: 'sealed@ternandtally.example', name: 'Sealed' })
  const sessions = (of: string) => secretFor(of, 'sessions')
  await asPerson(database, 0, async tx => {
    await tx.execute(
      sql`INSERT INTO auth."user" (id, name, email, "personId") VALUES ('sealed', 'Sealed', 'sealed@ternandtally.example', ${userId})`,
    )
    await tx.execute(sql`INSERT INTO auth."twoFactor" (id, secret, "backupCodes", "userId")
      VALUES ('sealed', ${await symmetricEncrypt({ key: sessions(secret), data: 'SEED' })}, ${await symmetricEncrypt({ key: sessions(secret), data: '[]' })}, 'sealed')`)
  })
  const changed = 'another secret, as long as one should be'
  setKeyring([changed, secret])
  expect((await sealAll(owner)).secondFactors).toBe(1)
  expect((await sealAll(owner)).secondFactors).toBe(0)
  // The former one may go now.
  setKeyring([changed])
  expect(openGrant((await kept()).credentials, place).secret).toBe('plain as day')
  const factor = await asPerson(database, 0, tx =>
    oneRow(tx, { secret: is.text }, sql`SELECT secret FROM auth."twoFactor" WHERE id = 'sealed'`),
  )
  expect(await symmetricDecrypt({ key: sessions(changed), data: factor.secret })).toBe('SEED')
  // Back again, for whoever comes after.
  setKeyring([secret, changed])
  await sealAll(owner)
  await asPerson(database, 0, tx => tx.execute(sql`DELETE FROM auth."user" WHERE id = 'sealed'`))
})
