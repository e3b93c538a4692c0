import { describeApi, endpoints } from '@culvert/contract'
import { Router } from 'express'
import { loadSession, staleClients } from '../access/loadSession.ts'
import { serve } from '../access/serve.ts'
import { countStale } from '../course/countStale.ts'
import type { Counters } from '../course/stages.ts'
import { asClient, asPerson, type Database } from '../database/connect.ts'
import type { Jobs } from '../jobs/boss.ts'
import type { Pullers } from '../jobs/pullers.ts'
import { archiveClient, removeClient } from './archive.ts'
import { createClient } from './createClient.ts'
import { pullAll } from './pullAll.ts'
import { loadSettings, saveSettings } from './settings.ts'

/** Who is signed in; taking clients on. */
export const clientRoutes = (
  database: Database,
  { counters, jobs, pullers }: { readonly counters: Counters; readonly jobs: Jobs; readonly pullers: Pullers },
): Router => {
  const router = Router()
  serve(router, endpoints.session, async ({ userId }) => {
    for (const clientId of await asPerson(database, userId, tx => staleClients(tx)))
      await countStale(database, { userId, clientId }, counters)
    return asPerson(database, userId, tx => loadSession(tx, userId))
  })
  const description = describeApi()
  serve(router, endpoints.description, () => Promise.resolve(description))
  serve(router, endpoints.addClient, async ({ userId, body }) => ({
    clientId: await createClient(database, userId, body),
  }))
  serve(router, endpoints.pullAll, ({ signed }) => {
    const { userId, narrowed } = signed()
    return pullAll(database, jobs, pullers, { userId, clients: narrowed?.clients ?? null })
  })
  return router
}

/** What a client is: changed, archived, removed. */
export const settingsRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.clientSettings, ({ actor }) => asClient(database, actor, loadSettings))
  serve(router, endpoints.saveClient, async ({ actor, body }) => ({
    version: await saveSettings(database, actor, body),
  }))
  serve(router, endpoints.archiveClient, async ({ actor, body }) => {
    await archiveClient(database, actor, body.archived)
    return {}
  })
  serve(router, endpoints.removeClient, async ({ actor, body }) => {
    await removeClient(database, actor, body.name)
    return {}
  })
  return router
}
