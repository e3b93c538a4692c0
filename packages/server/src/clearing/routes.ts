import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { found } from '../access/refused.ts'
import { asClient, type Database } from '../database/connect.ts'
import { loadClearingList, loadProofPage } from './loadClearing.ts'

/** Clearing accounts and their proofs. */
export const clearingRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/clearing', async (_request, response) => {
    response.json({ accounts: await asClient(database, actorOf(response), loadClearingList) })
  })
  router.get('/clearing/:account', async (request, response) => {
    const { date } = z.object({ date: z.iso.date().optional() }).parse(request.query)
    response.json(
      found(
        await asClient(database, actorOf(response), tx => loadProofPage(tx, request.params.account, date ?? null)),
        'clearing account',
      ),
    )
  })
  return router
}
