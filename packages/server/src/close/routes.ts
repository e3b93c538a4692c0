import { lockBody, month } from '@culvert/contract'
import { Router } from 'express'
import { actorOf } from '../access/establish.ts'
import { asClient, type Database } from '../database/connect.ts'
import { loadMonths, setLocked } from './loadClose.ts'
import { loadMonthState } from './loadMonthState.ts'

/** The months, and locking them. */
export const closeRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/close', async (_request, response) => {
    response.json({ months: await asClient(database, actorOf(response), loadMonths) })
  })
  router.get('/close/:month', async (request, response) => {
    const wanted = month.parse(request.params.month)
    response.json(await asClient(database, actorOf(response), tx => loadMonthState(tx, wanted)))
  })
  router.put('/close/lock', async (request, response) => {
    await setLocked(database, actorOf(response), lockBody.parse(request.body))
    response.json({})
  })
  return router
}
