import { newClient } from '@culvert/contract'
import { Router } from 'express'
import { userOf } from '../access/establish.ts'
import { asPerson, type Database } from '../database/connect.ts'
import { createClient } from './createClient.ts'
import { loadSession } from './loadSession.ts'

/** Who is signed in; taking clients on. */
export const clientRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/session', async (_request, response) => {
    response.json(await asPerson(database, userOf(response), tx => loadSession(tx, userOf(response))))
  })
  router.post('/clients', async (request, response) => {
    response
      .status(201)
      .json({ clientId: await createClient(database, userOf(response), newClient.parse(request.body)) })
  })
  return router
}
