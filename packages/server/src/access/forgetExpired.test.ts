import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { asPerson, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { testDatabase } from '../testing/madeClient.ts'
import { forgetExpired } from './forgetExpired.ts'
import { ensurePerson } from './practice.ts'

const database = testDatabase(2)
afterAll(() => database.$client.end())

it('forgets what is long over, and keeps what somebody may still use or look into', async () => {
  const userId = await ensurePerson(database, { email: 'expired@ternandtally.example', name: 'Expired' })
  const kept = () =>
    asPerson(database, 0, tx =>
      rowsOf(tx, { name: is.text }, sql`SELECT name FROM access_token WHERE user_id = ${userId} ORDER BY name`),
    )
  await asPerson(database, 0, async tx => {
    for (const [name, days, withdrawn] of [
      ['good', 10, null],
      ['lately over', -10, null],
      ['long over', -100, null],
      ['long withdrawn', 200, -100],
    ] as const)
      await tx.execute(sql`INSERT INTO access_token (user_id, name, token_hash, begins, rights, created_at, expires_at, withdrawn_at)
        VALUES (${userId}, ${name}, ${`expired ${name}`}, '', '[]', now(), now() + ${days} * interval '1 day',
          ${withdrawn === null ? null : sql`now() + ${withdrawn} * interval '1 day'`})`)
  })
  await forgetExpired(database)
  expect((await kept()).map(one => one.name)).toEqual(['good', 'lately over'])
})
