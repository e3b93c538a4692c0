import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type Jobs, startJobs } from '../jobs/boss.ts'
import { pullers } from '../stages.ts'
import { makeClient, testDatabase, testUrl } from '../testing/madeClient.ts'
import { archiveClient } from './archive.ts'
import { pullAll } from './pullAll.ts'

const database = testDatabase(8)
let jobs: Jobs
beforeAll(async () => {
  jobs = await startJobs(testUrl(), database, () => undefined)
})
afterAll(async () => {
  await jobs.stop()
  await database.$client.end()
})

it('pulls all that is connected of the clients one may bring in for, joins what is under way, and names what it cannot', async () => {
  const address = 'https://openhall.example/shops/one'
  const connected = await makeClient(database, 'Pulled', { address })
  const byFile = await makeClient(database, 'By file')
  const archived = await makeClient(database, 'Archived', { address })
  const ended = await makeClient(database, 'Ended')
  await archiveClient(database, archived, true)
  await asClient(database, ended, async tx => {
    await tx.execute(sql`INSERT INTO service_grant (client_id, grant_id, service, name, sort, practice_name, client_name, asked_name, asked_by, asked_at,
        asked_until, scopes, granted_at, granted, ended, ended_at)
      VALUES (current_client(), 'g-1', 'openhall', 'Openhall', 'marketplace', '', '', '', ${ended.userId}, now(), now(), '[]', now(), '[]', 'withdrawn', now())`)
    await tx.execute(sql`UPDATE source SET grant_id = 'g-1', shop = 'openhall/ended' WHERE source = 'openhall'`)
  })
  const { userId } = connected
  const clients = new Set([connected, byFile, archived, ended].map(one => one.clientId))
  const jobsOf = (client: typeof connected) =>
    asClient(database, client, tx => rowsOf(tx, { subject: is.text }, sql`SELECT subject FROM job WHERE sort = 'pull'`))
  for (const press of [1, 2]) {
    const pulled = await pullAll(database, jobs, pullers, { userId, clients })
    expect([press, pulled.clients, pulled.pulls]).toEqual([press, 3, 1])
    expect(pulled.refused.map(one => [one.client, one.what])).toEqual([['Ended', 'Openhall']])
    expect(pulled.refused[0]?.why).toContain('Connect it again')
  }
  expect(await jobsOf(connected)).toEqual([{ subject: 'openhall' }])
  expect(await jobsOf(archived)).toEqual([])
  // A token that is narrowed to some clients reaches no other.
  expect(await pullAll(database, jobs, pullers, { userId, clients: new Set([byFile.clientId]) })).toEqual({
    ...{ clients: 1, pulls: 0, refused: [] },
  })
})
