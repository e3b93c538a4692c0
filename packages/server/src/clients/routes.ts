import { describeApi, endpoints } from '@culvert/contract'
import { Router } from 'express'
import { loadSession, staleClients } from '../access/loadSession.ts'
import { serve } from '../access/serve.ts'
import { countStale } from '../course/countStale.ts'
import type { Counters } from '../course/stages.ts'
import { asPerson, type Database } from '../database/connect.ts'
import { createClient } from './createClient.ts'

/** Who is signed in; taking clients on. */
export const clientRoutes = (database: Database, counters: Counters): Router => {
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
  return router
}
