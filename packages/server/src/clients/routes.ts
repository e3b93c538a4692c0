import { newClient } from '@culvert/contract'
import { Router } from 'express'
import { userOf } from '../access/establish.ts'
import { asClient, asPerson, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { createClient } from './createClient.ts'
import { loadSession, staleClients } from './loadSession.ts'
import { countStale } from './refreshSummary.ts'

/** Who is signed in; taking clients on. */
export const clientRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/session', async (_request, response) => {
    const userId = userOf(response)
    for (const clientId of await asPerson(database, userId, tx => staleClients(tx)))
      await retrying(() => asClient(database, { userId, clientId }, countStale))
    response.json(await asPerson(database, userId, tx => loadSession(tx, userId)))
  })
  router.post('/clients', async (request, response) => {
    response
      .status(201)
      .json({ clientId: await createClient(database, userOf(response), newClient.parse(request.body)) })
  })
  return router
}
