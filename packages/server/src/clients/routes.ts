import { describeApi, endpoints } from '@culvert/contract'
import { Router } from 'express'
import { serve } from '../access/serve.ts'
import { asClient, asPerson, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { createClient } from './createClient.ts'
import { loadSession, staleClients } from './loadSession.ts'
import { countStale } from './refreshSummary.ts'

/** Who is signed in; taking clients on. */
export const clientRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.session, async ({ userId }) => {
    for (const clientId of await asPerson(database, userId, tx => staleClients(tx)))
      await retrying(() => asClient(database, { userId, clientId }, countStale))
    return asPerson(database, userId, tx => loadSession(tx, userId))
  })
  const description = describeApi()
  serve(router, endpoints.description, () => Promise.resolve(description))
  serve(router, endpoints.addClient, async ({ userId, body }) => ({
    clientId: await createClient(database, userId, body),
  }))
  return router
}
